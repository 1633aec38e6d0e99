/** Looking into files that are dropped in. */
package tender.service.inspect;
