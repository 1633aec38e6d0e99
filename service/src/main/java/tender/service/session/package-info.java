/** Watching who is connected. */
package tender.service.session;
