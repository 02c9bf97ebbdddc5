/**
 * Numbers from signals: what an instrument would show of a {@link boldanvil.core.samples.Series}. Statistics and periods
 * ({@link boldanvil.core.measure.Measurement}), steps ({@link boldanvil.core.measure.StepMetrics}), spectra, histograms, triggers, edges,
 * what digital lines say ({@link boldanvil.core.measure.Lines}), and how far two runs lie apart in time
 * ({@link boldanvil.core.measure.Alignment}). Series come in, numbers go out; nothing here knows of files, rigs or windows.
 */
package boldanvil.core.measure;
