/** IKEv2 (RFC 7296) and ESP in UDP (RFC 3948): codecs, keys, and both sides of a connection, fed with packets and time. */
package tender.core.ike;
