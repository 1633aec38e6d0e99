/** What somebody has to do by hand at gateways: the commands. */
package tender.client.instruction;
