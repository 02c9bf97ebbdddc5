/**
 * Images of parts: {@link boldanvil.core.build.Sources} puts the generated files together, {@link boldanvil.core.build.Builder} compiles
 * them for a {@link boldanvil.core.build.Target} and skips what has not changed. Compilers and the tools that state sizes are called here
 * and nowhere else.
 */
package boldanvil.core.build;
