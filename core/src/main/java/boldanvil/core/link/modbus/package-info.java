/** Modbus TCP, the side that asks (Modbus Application Protocol 1.1b3): tables and numbers as tags, blocks of neighbours in one request. */
package boldanvil.core.link.modbus;
