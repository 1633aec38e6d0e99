/** A gateway's configuration as a snapshot: its archive, the envelope that leaves Tender, and what changed since the last. */
package tender.core.backup;
