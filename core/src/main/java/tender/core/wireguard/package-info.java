/** WireGuard: its handshake and transport packets, as initiator and responder, and the dump its tools print. */
package tender.core.wireguard;
