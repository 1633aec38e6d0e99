/** The way of a packet from a device outside to a host inside and back, worked out from the records. */
package tender.core.walk;
