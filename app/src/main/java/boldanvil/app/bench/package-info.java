/**
 * The bench, where a running rig is driven and watched. {@link boldanvil.app.bench.BenchPage} puts its panes together: controls, tuning,
 * limits, readouts, drawings and health.
 */
package boldanvil.app.bench;
