/**
 * The window around the pages: rail, run bar, status line, findings, command palette, theme. {@link boldanvil.app.shell.Shell}
 * puts them together and knows every page.
 */
package boldanvil.app.shell;
