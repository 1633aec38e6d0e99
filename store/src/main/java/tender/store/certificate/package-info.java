/** Certificate authorities and the certificates they signed. */
package tender.store.certificate;
