/**
 * What came out of running a rig: {@link boldanvil.core.runs.RunData} holds the samples of every tap,
 * {@link boldanvil.core.runs.RunCsv} reads and writes them, {@link boldanvil.core.runs.Comparison} tells by how much two runs
 * differ and {@link boldanvil.core.runs.StepMetrics} how well a signal reached its set-point.
 * {@link boldanvil.core.runs.RunShelf} keeps runs in the project folder with what made them.
 */
package boldanvil.core.runs;
