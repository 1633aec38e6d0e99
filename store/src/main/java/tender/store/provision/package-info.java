/** Provisioning files, devices that joined with them, and what waits for each. */
package tender.store.provision;
