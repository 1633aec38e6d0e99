/** OpenVPN's protocol as its project documents it: control channel, key exchange and data channel of a client, without sockets. */
package tender.core.openvpn;
