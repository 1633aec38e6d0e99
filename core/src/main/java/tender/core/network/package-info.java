/** Strict addresses, prefixes, names and ports, and the arithmetic of an address plan. Nothing here asks a resolver. */
package tender.core.network;
