/** Secrets, keys and passwords, with what each is for, how it lives and who keeps it. */
package tender.core.credential;
