package boldanvil.core.testing;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Random;

/** Damages inputs: flipped bits, cut, doubled and inserted spans, spans of other inputs, and words that have caused trouble before. */
public final class Mutator {
    private static final List<String> WORDS = List.of("", "0", "-1", "1e400", "-1e-400", "NaN", "Infinity", "2147483648",
            "-9223372036854775808", "99999999999", "1e15", "9".repeat(400),
            "m^2147483", "1/0", "../../outside", "/dev/zero", "C:\\outside", "\u0000", "\\u0000", "\\ud800", "\u202e", "\n", "\r\n\t",
            "\"", "'", "\\", "*/", "#{", "$(touch outside)", "%n%s",
            "<!ENTITY x SYSTEM \"file:///etc/passwd\">", "<script>", "]]>", "/*", "(*", "END_IF", "IF a THEN ", "((((((((",
            "[".repeat(3_000), "(".repeat(3_000), "{\"a\":".repeat(2_000),
            "-".repeat(2_000), "NOT ".repeat(2_000), "u ** ".repeat(120) + "u", "a".repeat(100_000), " ".repeat(50_000),
            "time".repeat(10_000), "true", "null", "{}", "[]", "INT16_MAX", "double",
            "board_io", "1 mm²", "5 °C", "3 dB", "1 / s / s", "float32", "bool", "st", "chart", "subsystem", "table", "pid",
            "10000000000 s", "1 ns");

    private final Random random;

    public Mutator(long seed) {
        random = new Random(seed);
    }

    /** One of several inputs: half of them with one other word, the rest damaged once to four times. */
    public byte[] damaged(List<byte[]> seeds) {
        byte[] b = seeds.get(random.nextInt(seeds.size()));
        if (random.nextBoolean()) {
            return wordReplaced(b);
        }
        for (int n = 1 + random.nextInt(4); n > 0; n--) {
            b = switch (random.nextInt(8)) {
                case 0 -> flipped(b);
                case 1 -> cut(b);
                case 2 -> spliced(b, b);
                case 3 -> spliced(b, seeds.get(random.nextInt(seeds.size())));
                case 4 -> inserted(b, random.nextInt(b.length + 1), 0, word());
                default -> wordReplaced(b);
            };
        }
        return b.length > 2_000_000 ? Arrays.copyOf(b, 2_000_000) : b;
    }

    private byte[] word() {
        return WORDS.get(random.nextInt(WORDS.size())).getBytes(StandardCharsets.UTF_8);
    }

    private byte[] flipped(byte[] b) {
        byte[] c = b.clone();
        for (int n = 1 + random.nextInt(4); n > 0 && c.length > 0; n--) {
            c[random.nextInt(c.length)] ^= (byte) (1 << random.nextInt(8));
        }
        return c;
    }

    private byte[] cut(byte[] b) {
        int from = random.nextInt(b.length + 1);
        int length = random.nextInt(random.nextBoolean() ? 40 : b.length + 1);
        return inserted(b, from, Math.min(length, b.length - from), new byte[0]);
    }

    private byte[] spliced(byte[] b, byte[] from) {
        int at = random.nextInt(from.length + 1);
        int length = Math.min(from.length - at, random.nextInt(2_000));
        return inserted(b, random.nextInt(b.length + 1), 0, Arrays.copyOfRange(from, at, at + length));
    }

    /** Replaces one word or number, which leaves the form of most texts whole. */
    private byte[] wordReplaced(byte[] b) {
        if (b.length == 0) {
            return b;
        }
        int at = random.nextInt(b.length);
        while (at < b.length && !isWord(b[at])) {
            at++;
        }
        int from = at;
        while (from > 0 && isWord(b[from - 1])) {
            from--;
        }
        int to = at;
        while (to < b.length && isWord(b[to])) {
            to++;
        }
        return inserted(b, from, to - from, word());
    }

    private static boolean isWord(byte b) {
        return b >= '0' && b <= '9' || b >= 'A' && b <= 'Z' || b >= 'a' && b <= 'z' || b == '_' || b == '.';
    }

    private static byte[] inserted(byte[] b, int at, int without, byte[] what) {
        byte[] c = new byte[b.length - without + what.length];
        System.arraycopy(b, 0, c, 0, at);
        System.arraycopy(what, 0, c, at, what.length);
        System.arraycopy(b, at + without, c, at + what.length, b.length - at - without);
        return c;
    }
}
