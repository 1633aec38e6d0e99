/** Changes of devices' settings, and differences that were made at devices. */
package tender.store.change;
