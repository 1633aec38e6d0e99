/** Requests and answers of the HTTP API and the catalogue of problem codes: what service and client agree on. */
package tender.api;
