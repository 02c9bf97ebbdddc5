/**
 * Tags of a part: which value of a device each port, tunable and tap of a part is, by name and address. What carries the values is in
 * {@link boldanvil.core.link}.
 */
package boldanvil.core.tags;
