/**
 * Sheets as they are drawn: plates with ports, pictures of blocks, the ways of wires, and one painter for every pen, be it a window, SVG or
 * PDF. Nothing here knows a toolkit.
 */
package boldanvil.core.sheet;
