/** What needs somebody now, and search over everything. */
package tender.store.overview;
