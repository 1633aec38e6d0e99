/** What is wrong or about to be, as it was judged last. */
package tender.store.finding;
