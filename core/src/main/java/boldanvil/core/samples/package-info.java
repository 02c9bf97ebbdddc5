/**
 * Samples in memory: {@link boldanvil.core.samples.SampleStore} collects them while a rig runs, {@link boldanvil.core.samples.Samples} is
 * how charts and measurements read them, wherever they are kept. Instants are in seconds, values in SI. No file enters here.
 */
package boldanvil.core.samples;
