/**
 * From programs and a board to an image that can be loaded. {@link boldanvil.core.build.Sources} makes every generated file,
 * {@link boldanvil.core.build.Builder} compiles them with gcc and skips what has not changed,
 * {@link boldanvil.core.build.Review} gathers all findings of a project before any of this. The compiler is the only outside
 * program started here.
 */
package boldanvil.core.build;
