/** When what lets people in expires, and who has to be told. */
package tender.service.expiry;
