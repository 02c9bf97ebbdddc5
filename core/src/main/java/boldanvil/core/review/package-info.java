/**
 * Everything that can be found wrong with a project, in one list: {@link boldanvil.core.review.Review} lowers its parts and checks patches,
 * rigs, loads and the layout of the bench.
 */
package boldanvil.core.review;
