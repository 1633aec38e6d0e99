/** A name server for the demo company's zone. */
package tender.standins.names;
