/**
 * The command line: the same reach as the window, for build servers. Exit status 0 is good, 1 a comparison that failed, 2 bad
 * input, reported as findings on standard error. No stack trace reaches the user.
 */
package boldanvil.app.cli;
