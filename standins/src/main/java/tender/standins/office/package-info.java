/** One router and one name server on free loopback ports, ready in a moment: what a test or a quick look needs. */
package tender.standins.office;
