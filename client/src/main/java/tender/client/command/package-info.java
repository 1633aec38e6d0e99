/** What every command stands on: the terminal, calls to the service, the account it signs in with. */
package tender.client.command;
