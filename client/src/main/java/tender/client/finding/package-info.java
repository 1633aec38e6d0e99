/** Findings, and trials on a schedule. */
package tender.client.finding;
