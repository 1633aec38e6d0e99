/** Sending word by mail and by a web call. */
package tender.io.alert;
