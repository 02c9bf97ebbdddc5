/**
 * The stock: every block type, stated once. A {@link boldanvil.core.stock.BlockType} says its ports, its parameters, what
 * its plate reads, its help and, through an {@link boldanvil.core.stock.Emitter}, its behaviour as IR. Simulator, C code,
 * stock shelf, details form and help page are all made from that one statement. To add a block, add it to the class of
 * its family; {@link boldanvil.core.stock.Stock} lists them.
 */
package boldanvil.core.stock;
