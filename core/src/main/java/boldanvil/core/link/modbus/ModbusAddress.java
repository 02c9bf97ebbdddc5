package boldanvil.core.link.modbus;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Type;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.regex.Pattern;

/**
 * Where a tag lies: {@code coil 5}, {@code discrete 3}, {@code holding 100}, {@code input 7}, numbers from 0; {@code holding 100 swapped}
 * for a value of several registers whose low word comes first, {@code holding 100 [20]} for a text of that many registers.
 *
 * @param words how many registers it takes; 1 for a coil
 * @param swapped whether the low word comes first
 */
public record ModbusAddress(Table table, int number, int words, boolean swapped) {
    /** The four tables of the protocol. */
    public enum Table {
        COIL, DISCRETE, HOLDING, INPUT;

        boolean isBits() {
            return this == COIL || this == DISCRETE;
        }

        boolean isWritable() {
            return this == COIL || this == HOLDING;
        }
    }

    private static final Pattern FORM = Pattern.compile("(coil|discrete|holding|input) +([0-9]{1,5})( +swapped)?(?: *\\[([0-9]{1,3})])?");
    private static final int USUAL_TEXT = 16;

    /** @throws FindingException when the address is of another form, or does not fit the type */
    public static ModbusAddress of(Tag tag) {
        var m = FORM.matcher(tag.address().strip().toLowerCase(Locale.ROOT));
        if (!m.matches() || Integer.parseInt(m.group(2)) > 65_535) {
            throw wrong(tag, "'" + tag.address() + "' is not an address of Modbus.",
                    "Write such as coil 5, discrete 3, holding 100 or input 7 swapped.");
        }
        var table = Table.valueOf(m.group(1).toUpperCase(Locale.ROOT));
        if (table.isBits() != (tag.type() == TagType.BOOL)) {
            throw wrong(tag, "A " + tag.type() + " cannot lie in the table '" + m.group(1) + "'.",
                    table.isBits() ? "Coils and discrete inputs hold BOOL only." : "Use a coil or a discrete input for a BOOL.");
        }
        int words = tag.type() == TagType.STRING ? m.group(4) == null ? USUAL_TEXT : Math.clamp(Integer.parseInt(m.group(4)), 1, 120)
                : Math.max(1, tag.type().bits() / 16);
        int number = Integer.parseInt(m.group(2));
        if (number + words > 65_536) {
            throw wrong(tag, "The tag lies beyond the last register.", "Choose a lower number.");
        }
        return new ModbusAddress(table, number, words, m.group(3) != null);
    }

    /** Whether what lies there can be written. */
    public boolean isWritable() {
        return table.isWritable();
    }

    private static FindingException wrong(Tag tag, String cause, String cure) {
        return FindingException.of(Place.named(tag.name()), cause, cure);
    }

    /**
     * The value in some registers.
     *
     * @param bytes of the registers, high byte first
     */
    Object decode(TagType type, byte[] bytes, int at) {
        if (type == TagType.STRING) {
            int length = 0;
            while (length < 2 * words && bytes[at + length] != 0) {
                length++;
            }
            return new String(bytes, at, length, StandardCharsets.ISO_8859_1);
        }
        long bits = 0;
        for (int i = 0; i < words; i++) {
            int word = at + 2 * (swapped ? words - 1 - i : i);
            bits = bits << 16 | (bytes[word] & 0xFF) << 8 | bytes[word + 1] & 0xFF;
        }
        return switch (type) {
            case REAL -> (double) Float.intBitsToFloat((int) bits);
            case LREAL, TIME -> Double.longBitsToDouble(bits);
            case LINT -> bits;
            case ULINT -> Type.UINT64.exact(bits);
            default -> type.type().orElseThrow().wrap(bits);
        };
    }

    /** @throws IllegalArgumentException when the type does not have the value */
    byte[] encode(TagType type, Object value) {
        byte[] bytes = new byte[2 * words];
        if (type == TagType.STRING) {
            byte[] text = value.toString().getBytes(StandardCharsets.ISO_8859_1);
            if (text.length > bytes.length) {
                throw new IllegalArgumentException("the text is longer than " + bytes.length + " characters");
            }
            System.arraycopy(text, 0, bytes, 0, text.length);
            return bytes;
        }
        Number n = type.number(value);
        double x = n.doubleValue();
        long bits = switch (type) {
            case REAL -> Float.floatToRawIntBits((float) x);
            case LREAL, TIME -> Double.doubleToRawLongBits(x);
            default -> n.longValue();
        };
        for (int i = 0; i < words; i++) {
            int word = 2 * (swapped ? i : words - 1 - i);
            bytes[word] = (byte) (bits >> 16 * i + 8);
            bytes[word + 1] = (byte) (bits >> 16 * i);
        }
        return bytes;
    }
}
