/** The line of work, and search. */
package tender.service.overview;
