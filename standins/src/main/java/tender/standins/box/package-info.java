/** What all simulated boxes share: SSH and files, a way back, a log, a clock, faults to switch on. */
package tender.standins.box;
