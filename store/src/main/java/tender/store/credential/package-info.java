/** Credentials, apart from the profiles that use them; secrets encrypted. */
package tender.store.credential;
