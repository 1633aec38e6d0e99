/** Telling all nodes that something changed. */
package tender.store.event;
