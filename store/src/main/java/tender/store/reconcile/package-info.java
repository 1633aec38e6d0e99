/** What should be active at gateways, how far it is, and who may write them. */
package tender.store.reconcile;
