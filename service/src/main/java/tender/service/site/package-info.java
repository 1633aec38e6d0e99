/** Sites and their networks. */
package tender.service.site;
