/** A simulated staff device that keeps a tunnel up with the file it was given. */
package tender.standins.caller;
