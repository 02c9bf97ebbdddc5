/**
 * Measurements that are no tests: how fast a step is as Java class and as compiled C called from Java, as ratios within one
 * run. {@code docs/benchmarks.md} has the command and what it gave.
 */
package boldanvil.benchmarks;
