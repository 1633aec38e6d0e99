/** A mail server that keeps what it is given. */
package tender.standins.mail;
