/** What client files show of an office that nobody has entered yet: gateways, listeners, sites, people and devices. */
package tender.core.proposal;
