/** What a node measures of itself, for a monitoring system that collects Prometheus' text format. */
package tender.service.metrics;
