/** A simulated network storage device with OpenVPN and L2TP/IPsec listeners. */
package tender.standins.nas;
