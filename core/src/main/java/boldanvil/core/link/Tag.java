package boldanvil.core.link;

/**
 * A value that a device knows by an address of its own.
 *
 * @param name as people know it
 * @param address as the device knows it: a node id of OPC UA, or a table and number of Modbus
 * @param writable whether the device lets it be written
 */
public record Tag(String name, String address, TagType type, boolean writable, String comment) {
    public Tag(String name, String address, TagType type) {
        this(name, address, type, true, "");
    }
}
