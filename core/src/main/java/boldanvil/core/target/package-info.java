/**
 * Real-time targets: which channel each signal of a part has, what channels do to signals, and how parts run on the cores of a target in
 * simulated time.
 */
package boldanvil.core.target;
