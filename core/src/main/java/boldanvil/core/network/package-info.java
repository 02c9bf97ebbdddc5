/**
 * Physical networks: what elements state, and how it becomes equations that can be computed.
 *
 * <p>An element has contacts. Contacts that are joined share a potential (voltage, speed, pressure, temperature), and the flows (current,
 * torque, force, volume flow, heat flow) into all of them add up to zero. Within, an element has branches, each with the difference of two
 * potentials across and a flow through it, and states as many equations as it has branches and unknowns of its own, linear in them and
 * their rates of change. {@link boldanvil.core.network.Assembly} collects them, {@link boldanvil.core.network.Reduction} solves them for
 * the rates of the states and for what is measured, for each position of the switches.
 *
 * <p>Functions that are not linear are expressions of such forms; their values count as inputs of what is linear, and are found from their
 * arguments in each step.
 *
 * <p>Formulation: sparse tableau (Hachtel, Brayton and Gustavson, IEEE Trans. Circuit Theory 18, 1971); potentials and flows of all domains
 * by the analogy of Firestone, J. Acoust. Soc. Am. 4, 1933.
 */
package boldanvil.core.network;
