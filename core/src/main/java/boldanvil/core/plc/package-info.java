/**
 * A PLC at work, without its network: programs in tasks, the process image, forced and retained values, the watchdog, and a change of the
 * program between two scans. Time comes from outside, so that a plant and a PLC can share one clock. What reads and writes its variables
 * over a network is in the stand-ins.
 */
package boldanvil.core.plc;
