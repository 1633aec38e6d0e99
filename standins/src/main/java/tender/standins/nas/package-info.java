/** A simulated network storage box with OpenVPN and L2TP/IPsec listeners. */
package tender.standins.nas;
