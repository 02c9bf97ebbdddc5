/**
 * From programs and a board to an image that can be loaded. {@link boldanvil.core.build.Sources} makes every generated file,
 * {@link boldanvil.core.build.Builder} compiles them for a {@link boldanvil.core.build.Target} and skips what has not changed,
 * {@link boldanvil.core.build.Review} gathers all findings of a project before any of this.
 * {@link boldanvil.core.build.LoadEstimate} and {@link boldanvil.core.build.LinkBudget} say whether a board is fast enough. Compilers and the tools
 * beside them are the only outside programs started here.
 */
package boldanvil.core.build;
