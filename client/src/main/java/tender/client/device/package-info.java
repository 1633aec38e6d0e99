/** A device that joins with a provisioning file and keeps its profiles current. */
package tender.client.device;
