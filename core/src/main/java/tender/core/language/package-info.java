/** What staff read, one catalogue file for each language. */
package tender.core.language;
