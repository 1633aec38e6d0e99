/** The append-only, hash-chained journal. */
package tender.store.journal;
