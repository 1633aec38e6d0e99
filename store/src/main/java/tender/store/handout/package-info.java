/** Handouts, and the little that the staff's page may see of them. */
package tender.store.handout;
