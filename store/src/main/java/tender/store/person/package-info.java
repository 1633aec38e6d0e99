/** Teams, people and their devices. */
package tender.store.person;
