/**
 * What leaves the house: a {@link boldanvil.core.report.Table} comes in, CSV (RFC 4180) or PDF goes out; a {@link
 * boldanvil.core.report.Plot} comes in, SVG or PDF goes out. Nothing here knows what a table or a plot is about.
 */
package boldanvil.core.report;
