/** Brings a gateway to what the records say, whatever was written there before. */
package tender.service.sync;
