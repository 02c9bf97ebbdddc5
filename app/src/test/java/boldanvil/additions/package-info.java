/**
 * One small example of everything that can be added to the product: a block, a peripheral, a board, a page, a link, an output and an
 * exporter. Each is a class (the board is a file) and a line in {@code src/test/additions/META-INF/services}; nothing else of the product
 * changes.
 */
package boldanvil.additions;
