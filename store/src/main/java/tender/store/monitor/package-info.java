/** Listeners that are tried on a schedule, and how they fared. */
package tender.store.monitor;
