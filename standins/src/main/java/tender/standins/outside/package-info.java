/** Servers that stand on the outside, for whoever asks how the outside sees them. */
package tender.standins.outside;
