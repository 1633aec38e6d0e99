/** The office side: what a gateway says of itself, and the listeners on it. */
package tender.core.office;
