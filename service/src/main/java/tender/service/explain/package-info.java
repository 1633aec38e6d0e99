/** Plain words about settings, tunnel types, doors and networks. */
package tender.service.explain;
