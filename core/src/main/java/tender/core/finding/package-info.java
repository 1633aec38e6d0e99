/** Rules that find what is wrong or about to be, from the records alone. */
package tender.core.finding;
