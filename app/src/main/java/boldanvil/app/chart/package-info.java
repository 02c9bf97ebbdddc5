/**
 * Charts. A {@link boldanvil.app.chart.TraceView} shows signals and logic lines over time, a {@link boldanvil.app.chart.SidePlot} spectra,
 * histograms and one signal over another. Both read {@link boldanvil.core.samples.Samples} reduced to the pixels there are, so a long run
 * costs no more than a short one. Traces are drawn into a raster of pixels; what stretch of time and values is shown is decided by
 * {@code Viewport} and {@code AxisRange} in {@code app.model}, what is measured by {@code core.measure}.
 */
package boldanvil.app.chart;
