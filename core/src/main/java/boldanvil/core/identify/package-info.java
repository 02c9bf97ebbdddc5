/**
 * Models from recorded signals: frequency responses with coherence, difference equations, output errors, first and second order with delay,
 * states by subspaces, and the sheet's own plant with variables left free. In go samples, and for the last a project; out come values with
 * their bounds, and what the residuals say. It writes no project.
 */
package boldanvil.core.identify;
