/** Changes of devices' settings: previewed, applied with a rollback, kept or rolled back. */
package tender.service.change;
