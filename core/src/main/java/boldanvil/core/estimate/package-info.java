/**
 * Whether a board is fast enough: {@link boldanvil.core.estimate.LoadEstimate} for its processor, {@link
 * boldanvil.core.estimate.LinkBudget} for its links.
 */
package boldanvil.core.estimate;
