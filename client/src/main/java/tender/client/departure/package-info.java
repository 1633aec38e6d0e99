/** People who leave and devices that are lost: the commands. */
package tender.client.departure;
