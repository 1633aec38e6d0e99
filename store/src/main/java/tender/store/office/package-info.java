/** Routing domains, sites, gateways, listeners and endpoints, and who may write a gateway now. */
package tender.store.office;
