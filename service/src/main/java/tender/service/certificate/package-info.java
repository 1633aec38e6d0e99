/** The company's certificate authorities: made or taken in, signing, revoking, and their lists published. */
package tender.service.certificate;
