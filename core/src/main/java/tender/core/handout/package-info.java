/** What a handout's link leads to: a parcel that only the link's token together with the passphrase opens. */
package tender.core.handout;
