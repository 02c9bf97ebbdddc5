/**
 * Images of parts: {@link boldanvil.core.build.Sources} collects the generated files, {@link boldanvil.core.build.Builder} compiles them
 * for a {@link boldanvil.core.build.Target}; unchanged files are not compiled again. Only this package runs compilers and the tools that
 * report sizes.
 */
package boldanvil.core.build;
