/**
 * Many runs: how the values of each run are chosen ({@link boldanvil.core.study.Sampling} over {@link boldanvil.core.study.Spread}s), which
 * share of them a machine runs, and how the shares come together again ({@link boldanvil.core.study.Shards}). What one run is, is said
 * elsewhere.
 */
package boldanvil.core.study;
