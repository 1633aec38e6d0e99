/** The HTTP side: the table of routes with the roles each allows, reading calls, and answering problems. */
package tender.service.http;
