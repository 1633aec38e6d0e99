/** Brings gateways to what the records want there; the only place that writes to them. */
package tender.service.reconcile;
