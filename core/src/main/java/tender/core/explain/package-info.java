/** Plain words for people: settings, tunnel types, doors and networks. */
package tender.core.explain;
