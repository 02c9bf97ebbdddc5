package boldanvil.core.text;

import java.util.Locale;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.ParserRuleContext;

/**
 * A direct address (IEC 61131-3:2013, table 16). The number counts units of the size that is named: {@code %MW3} is the fourth word and
 * lies in the bytes 6 and 7, {@code %IX2.5} is bit 5 of byte 2.
 *
 * @param area I, Q or M
 * @param bit number of the first bit, from the beginning of the area
 * @param bits how many bits it has
 */
public record Address(char area, int bit, int bits) {
    private static final Pattern FORM = Pattern.compile("%([IQM])([XBWDL]?)([0-9]{1,6})(?:\\.([0-9]{1,2}))?");

    /**
     * Reads an address.
     *
     * @return null where the text is none
     */
    public static Address parse(String text) {
        var m = FORM.matcher(text.toUpperCase(Locale.ROOT));
        if (!m.matches()) {
            return null;
        }
        String size = m.group(2).isEmpty() ? "X" : m.group(2);
        int number = Integer.parseInt(m.group(3));
        int bits = bits(size.charAt(0));
        if (m.group(4) == null) {
            return new Address(m.group(1).charAt(0), number * bits, bits);
        }
        int within = Integer.parseInt(m.group(4));
        return bits != 1 || within > 7 ? null : new Address(m.group(1).charAt(0), number * 8 + within, 1);
    }

    private static int bits(char size) {
        return switch (size) {
            case 'X' -> 1;
            case 'B' -> 8;
            case 'W' -> 16;
            case 'D' -> 32;
            default -> 64;
        };
    }

    /** Reads the address of a variable of a type. */
    static Address of(ParserRuleContext at, String text, TextType type) {
        var a = parse(text);
        if (a == null) {
            throw Compilation.stop(at, "'" + text + "' is not an address.", "Write such as %IX0.3, %QW2 or %MD4.");
        }
        int wanted = type == TextType.BOOL ? 1 : 8 * type.type().bytes();
        if (a.bits() != wanted) {
            throw Compilation.stop(at, "The address " + text + " has " + a.bits() + (a.bits() == 1 ? " bit" : " bits") + ", a " + type
                    + " has " + wanted + ".", "Write " + a.sized(wanted) + ".");
        }
        return a;
    }

    /** The address of as many bits at the same place. */
    private String sized(int wanted) {
        return wanted == 1 ? "%" + area + "X" + bit / 8 + "." + bit % 8
                : "%" + area + "BWDL".charAt(Integer.numberOfTrailingZeros(wanted / 8)) + bit / wanted;
    }

    String areaName() {
        return switch (area) {
            case 'I' -> "inputs";
            case 'Q' -> "outputs";
            default -> "memory";
        };
    }

    @Override
    public String toString() {
        return sized(bits);
    }
}
