/**
 * The PLC stand-in, a process of its own: a {@link boldanvil.core.plc.PlcRuntime} with what is around it, which are a clock, flash memory,
 * an OPC UA server, a Modbus server, faults that can be switched on, and the control channel by which programs are downloaded.
 */
package boldanvil.standin.plc;
