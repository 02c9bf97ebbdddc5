package boldanvil.core.frame;

/**
 * A device on an I²C or SPI bus, with the register that is read.
 *
 * @param name name in project files
 * @param address on an I²C bus, 7 bits
 * @param register number of the register
 * @param layout how the register holds the value
 * @param unit unit of the value
 * @param updateSeconds time between two measurements of the device
 */
public record BusDevice(String name, String title, int address, int register, RegisterLayout layout, String unit, double updateSeconds) {}
