/** The staff's page. Holds neither the master key nor any connector. */
package tender.service.collect;
