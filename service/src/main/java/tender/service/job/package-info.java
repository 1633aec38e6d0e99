/** Running queued work on this node. */
package tender.service.job;
