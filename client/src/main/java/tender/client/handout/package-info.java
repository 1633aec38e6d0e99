/** Handouts. */
package tender.client.handout;
