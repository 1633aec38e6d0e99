/** Simulated devices that ship with Tender, for the demo and the tests. They speak the real protocols on loopback. */
package tender.standins;
