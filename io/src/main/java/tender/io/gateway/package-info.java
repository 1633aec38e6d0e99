/** Connectors: how Tender reads and changes gateways. Identities are pinned, commands are fixed words, times are bounded. */
package tender.io.gateway;
