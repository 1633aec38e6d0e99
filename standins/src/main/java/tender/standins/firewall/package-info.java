/** A simulated firewall managed over HTTPS by the bridge interface. */
package tender.standins.firewall;
