/** Removing things that were added: what stands against it, and what goes. */
package tender.store.removal;
