/** People and their devices, as lists name them. */
package tender.core.person;
