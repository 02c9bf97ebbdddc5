/**
 * Numbers as people type them. In come expressions such as {@code 20 kHz}, {@code 2*pi*50} or {@code Vbus/2}, out go
 * values in SI units with their dimension. Everything behind this package is SI; units appear again only where a value is
 * shown.
 */
package boldanvil.core.quantity;
