/**
 * The window around the pages: rail, run bar, status line, findings, list of commands. {@link boldanvil.app.shell.Shell} gets its pages as
 * a list and knows none by name.
 */
package boldanvil.app.shell;
