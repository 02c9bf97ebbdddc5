/**
 * A running copy of a program, whatever runs it: a Java class, compiled C, or a device.
 */
package boldanvil.core.instance;
