/** Adding, reading and changing gateways; every write is backed up, fenced, and confirmed by reading again. */
package tender.service.gateway;
