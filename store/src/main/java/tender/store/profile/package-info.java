/** Profiles, their listeners, tunnel addresses and revisions, and the changes they need on gateways. */
package tender.store.profile;
