/** Connections seen working. */
package tender.store.session;
