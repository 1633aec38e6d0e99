/** Removing what was added: its impact first, then the removal. */
package tender.service.removal;
