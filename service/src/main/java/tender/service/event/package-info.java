/** Live events to browsers. */
package tender.service.event;
