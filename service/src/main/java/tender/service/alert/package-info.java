/** Word sent to people by mail and to programs by a web call. */
package tender.service.alert;
