/** The model of the office: sites, gateways, listeners, and how a gateway is reached; and changes of it. */
package tender.core.office;
