/** What a change would do to files that were handed out, to people who are connected, and to what is wrong. */
package tender.core.impact;
