/** Importing client files that gateways exported: whose they are, what is wrong, and repairing by rule. */
package tender.service.importing;
