/**
 * The patch, build, runs and trials pages, and {@link boldanvil.app.pages.AllPages}, the list of all pages of the window. Pages show what
 * the view-models and {@code core} compute and hand back what the user does.
 */
package boldanvil.app.pages;
