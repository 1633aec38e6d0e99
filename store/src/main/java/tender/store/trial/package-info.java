/** Trials and their rungs. */
package tender.store.trial;
