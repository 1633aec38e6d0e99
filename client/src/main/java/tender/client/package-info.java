/** The command-line client: {@code tender THING VERB} over the service's HTTP API, and trials from where it stands. */
package tender.client;
