/** Preparing what people collect. */
package tender.service.handout;
