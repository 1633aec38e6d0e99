/** Sites, gateways, their descriptions and the routes behind them. */
package tender.client.gateway;
