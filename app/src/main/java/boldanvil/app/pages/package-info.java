/**
 * The pages besides the sheet: patch, build, bench and runs. Each shows what the view-models and {@code core} say and hands
 * back what the user does.
 */
package boldanvil.app.pages;
