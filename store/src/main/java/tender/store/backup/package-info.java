/** Snapshots of gateways, encrypted. */
package tender.store.backup;
