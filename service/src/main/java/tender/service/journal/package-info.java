/** Reading the journal and checking its chain. */
package tender.service.journal;
