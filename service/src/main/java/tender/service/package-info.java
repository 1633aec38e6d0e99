/** The service: wiring and start. The only place where core, io and store meet. */
package tender.service;
