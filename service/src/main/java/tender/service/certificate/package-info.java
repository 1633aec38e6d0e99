/** The company's certificate authorities: created or imported, signing, revoking, and their lists published. */
package tender.service.certificate;
