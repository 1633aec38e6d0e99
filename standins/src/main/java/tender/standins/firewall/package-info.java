/** A simulated firewall managed over HTTPS by the gateway API. */
package tender.standins.firewall;
