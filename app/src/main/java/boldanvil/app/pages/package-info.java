/**
 * The pages besides the sheet: patch, build, bench, runs and trials. Each shows what the view-models and {@code core} say and hands
 * back what the user does. The bench is put together from panes of its own: controls, tuning, limits, measurements, readouts, drawings and health.
 */
package boldanvil.app.pages;
