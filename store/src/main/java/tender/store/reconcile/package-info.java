/** What should be in force at gateways, how far it is, and who may write them. */
package tender.store.reconcile;
