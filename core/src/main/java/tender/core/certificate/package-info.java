/** Certificates, keys, requests, revocation lists and key stores: read with their facts, and made by an authority. */
package tender.core.certificate;
