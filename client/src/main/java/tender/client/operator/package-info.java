/** Signing in, operators and the master key. */
package tender.client.operator;
