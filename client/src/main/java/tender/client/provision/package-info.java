/** Provisioning files and the devices that joined with them: the commands. */
package tender.client.provision;
