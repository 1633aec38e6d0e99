/** Certificate authorities. */
package tender.client.authority;
