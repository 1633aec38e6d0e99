/** Trials over real sockets, run without any rights on the machine. */
package tender.io.trial;
