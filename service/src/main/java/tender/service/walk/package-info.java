/** Asking for a route walk. */
package tender.service.walk;
