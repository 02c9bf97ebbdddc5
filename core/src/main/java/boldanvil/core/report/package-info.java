/**
 * What leaves the house on paper: a {@link boldanvil.core.report.Table} comes in, CSV (RFC 4180) or PDF goes out. Nothing here knows
 * what the table is about.
 */
package boldanvil.core.report;
