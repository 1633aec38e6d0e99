/** Provisioning files and the calls of devices as signed text. */
package tender.io.provision;
