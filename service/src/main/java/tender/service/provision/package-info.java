/** Provisioning files, and devices that keep themselves current. */
package tender.service.provision;
