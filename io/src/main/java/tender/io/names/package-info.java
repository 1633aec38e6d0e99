/** Looking up names at the resolver that the settings name. */
package tender.io.names;
