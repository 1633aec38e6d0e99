/** How gateways are reached: connectors, device descriptions, and management connections signed in with a gateway's key. */
package tender.service.device;
