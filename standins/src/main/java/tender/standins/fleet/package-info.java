/** Large made-up companies, for benchmarks and tests of scale. */
package tender.standins.fleet;
