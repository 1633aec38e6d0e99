/** Issuing, renewing and withdrawing profiles. */
package tender.service.profile;
