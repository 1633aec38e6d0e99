/** Changes of devices' settings: previewed, made with a way back, kept or returned. */
package tender.service.change;
