/** The demo company's outside world: its router, its name server, and devices that are connected. */
package tender.standins.demo;
