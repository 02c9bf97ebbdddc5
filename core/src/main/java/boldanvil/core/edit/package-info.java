/**
 * Changes of a project that reach further than one block: groups, names and where they are used, insertion on wires. No toolkit, no disk.
 */
package boldanvil.core.edit;
