/** People who leave and devices that are lost: everything of theirs ends, and trials show that it does. */
package tender.service.departure;
