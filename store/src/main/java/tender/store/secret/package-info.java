/** Encrypted columns: AES-256-GCM with a key id and a nonce for each value, bound to table, column and row. */
package tender.store.secret;
