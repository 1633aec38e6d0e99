/** Monitors: listeners that are tried on a schedule, and word of those that stop working. */
package tender.service.monitor;
