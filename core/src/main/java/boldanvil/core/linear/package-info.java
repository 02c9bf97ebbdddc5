/**
 * Linear systems in state space, continuous and sampled: responses, margins, root loci, sampling, Riccati equations, designs. In go
 * matrices and polynomials, out come numbers; nothing here knows of projects, sheets or IR. Time is in seconds, frequency in rad/s.
 */
package boldanvil.core.linear;
