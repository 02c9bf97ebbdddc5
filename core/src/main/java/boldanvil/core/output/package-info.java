/**
 * What outputs of the IR have in common: the interface {@link boldanvil.core.output.CodeGenerator}, files with the diagram place of each
 * line, text with indentation, and the search for subsystems that can share one function. A language has a package of its own.
 */
package boldanvil.core.output;
