/**
 * The sheet page: the canvas that draws plates and wires and takes the pointer, the stock beside it, the details of what is
 * selected. {@link boldanvil.app.sheet.WireRouter} finds the way of wires around plates; it is plain Java.
 */
package boldanvil.app.sheet;
