/** A trial's ladder: what was observed on the wire, what the gateway's own files say, and what follows from both. */
package tender.core.trial;
