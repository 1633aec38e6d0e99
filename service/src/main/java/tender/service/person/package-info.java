/** People, their devices, and bringing them in from a list. */
package tender.service.person;
