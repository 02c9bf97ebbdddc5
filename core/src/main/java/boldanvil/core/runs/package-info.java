/**
 * What came out of running a rig. {@link boldanvil.core.runs.Samples} is how charts and measurements read it, whether it is in memory
 * while it comes in ({@link boldanvil.core.runs.SampleStore}) or in a file ({@link boldanvil.core.runs.RunFile}).
 * {@link boldanvil.core.runs.RunShelf} keeps runs in the project folder with what made them; a
 * {@link boldanvil.core.runs.Recording} writes one while it runs. {@link boldanvil.core.runs.Comparison} computes by how much two runs
 * differ, {@link boldanvil.core.runs.RunCsv} and {@link boldanvil.core.runs.RunVcd} speak with other tools. What signals mean is
 * measured in {@code measure}.
 */
package boldanvil.core.runs;
