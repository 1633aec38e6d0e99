/** What is seen and kept: sessions, backups, jobs, the journal, the overview. */
package tender.client.watch;
