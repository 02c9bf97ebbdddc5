/**
 * Runs again what was run: the value of every wire at any past instant, computed anew from the recorded start and changes, and why it was
 * so.
 */
package boldanvil.core.replay;
