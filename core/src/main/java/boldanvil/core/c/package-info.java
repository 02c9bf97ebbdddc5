/**
 * The IR as C99: a {@link boldanvil.core.program.Program} goes in, a header and a source file come out. All state lives
 * in one context struct whose layout {@link boldanvil.core.program.Layout} fixes and the source asserts. No allocation,
 * no undefined behaviour, no board: that is the business of the {@code build} package.
 */
package boldanvil.core.c;
