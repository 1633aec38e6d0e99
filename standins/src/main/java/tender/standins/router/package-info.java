/** A router that is managed over SSH and SFTP, keeps its settings in files, and answers WireGuard for real. */
package tender.standins.router;
