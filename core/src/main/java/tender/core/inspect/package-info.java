/** Looks into any file that belongs to remote access and says what it is, where it leads and what is wrong with it. */
package tender.core.inspect;
