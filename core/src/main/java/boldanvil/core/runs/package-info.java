/**
 * Recorded runs: {@link boldanvil.core.runs.RunShelf} is the folder of a project's runs, {@link boldanvil.core.runs.Recording} writes one
 * while it runs, {@link boldanvil.core.runs.Comparison} computes by how much two differ, {@link boldanvil.core.runs.RunDifferences} what
 * differs in their origin.
 */
package boldanvil.core.runs;
