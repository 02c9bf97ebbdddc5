/**
 * Trace charts: one canvas with a pane for each chart of the bench layout, over one time axis. Drawn from
 * {@link boldanvil.core.runs.SampleStore} reduced to the pixels there are, so a long run costs no more than a short one.
 */
package boldanvil.app.chart;
