/** The page for a person who must type a connection in: what to enter where, in the right order, and what each value is. */
package tender.core.sheet;
