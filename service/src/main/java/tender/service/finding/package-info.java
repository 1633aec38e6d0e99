/** Findings over all records. */
package tender.service.finding;
