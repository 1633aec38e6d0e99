/** Kinds of box and the ways to them: connectors, device descriptions, and opening a session with a gateway's key. */
package tender.service.device;
