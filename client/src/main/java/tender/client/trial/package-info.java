/** Trials from where the client stands, and those of the service. */
package tender.client.trial;
