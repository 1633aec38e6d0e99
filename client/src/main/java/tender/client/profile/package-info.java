/** Profiles and the grants that teams get. */
package tender.client.profile;
