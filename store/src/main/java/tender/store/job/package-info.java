/** The queue of time-taking work, leased by nodes. */
package tender.store.job;
