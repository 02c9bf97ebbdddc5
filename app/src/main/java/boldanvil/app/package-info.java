/**
 * The desktop application and its command line. {@link boldanvil.app.Main} decides which of the two is wanted. Everything
 * that computes is in {@code core}.
 */
package boldanvil.app;
