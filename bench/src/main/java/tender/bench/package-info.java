/** Benchmarks: {@code java -cp bench/target/bench-0.1.0.jar:bench/target/lib/* org.openjdk.jmh.Main -f 1 -wi 2 -i 3 -w 1 -r 1}. */
package tender.bench;
