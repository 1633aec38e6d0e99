/** The master key that encrypts every secret in the database, and its rotation. */
package tender.service.key;
