/** Changes of gateways' settings. */
package tender.client.change;
