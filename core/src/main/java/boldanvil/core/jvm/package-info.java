/**
 * The IR as a Java class: a {@link boldanvil.core.program.Program} goes in, a compiled
 * {@link boldanvil.core.instance.Instance} comes out. Nothing is interpreted. Slots become fields, procedures methods;
 * methods are kept small enough for the JIT compiler.
 */
package boldanvil.core.jvm;
