/** What somebody has to do by hand at a gateway: listed, sent, printed, said to be done, and checked. */
package tender.service.instruction;
