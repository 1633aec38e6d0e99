/** People who left and devices that were lost, and the proof that they are refused. */
package tender.store.departure;
