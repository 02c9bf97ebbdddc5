/**
 * A project as it is drawn and kept: parts, sheets, blocks, wires, variables, rigs, patch rows and bench layout, all
 * immutable records of plain text and numbers. A change makes a new {@link boldanvil.core.diagram.Project}; what did not
 * change is shared, which makes undo cheap. Nothing here knows what a block does: its type is a name, its settings are
 * texts.
 */
package boldanvil.core.diagram;
