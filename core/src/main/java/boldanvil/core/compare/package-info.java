/** What differs between two states of a project: blocks, wires, values and all else, and earlier states from version control. */
package boldanvil.core.compare;
