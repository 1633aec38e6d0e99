/** Keeping and handing over backups. */
package tender.service.backup;
