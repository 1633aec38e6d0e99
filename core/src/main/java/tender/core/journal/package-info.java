/** The journal's chain: how an entry is bound to the one before it. */
package tender.core.journal;
