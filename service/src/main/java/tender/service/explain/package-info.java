/** Plain words about settings, tunnel types, ports and networks. */
package tender.service.explain;
