/** Plain words for people: settings, tunnel types, ports and networks. */
package tender.core.explain;
