/** What all simulated devices share: SSH and files, a rollback, a log, a clock, faults to switch on. */
package tender.standins.device;
