/** Provisioning: who signs a provisioning file, what a device signs with, and what is sealed to a device. */
package tender.core.provision;
