/** Running trials and keeping what they showed. */
package tender.service.trial;
