/** People and their devices. */
package tender.client.person;
