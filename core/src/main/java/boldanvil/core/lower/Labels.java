package boldanvil.core.lower;

import java.util.ArrayList;

/** Names of blocks and rates as programs use them. */
final class Labels {
    private Labels() {}

    /** The address of a block in its part, such as {@code loop.gain}. */
    static String address(FlatBlock f) {
        var parts = f.path().split("/");
        var words = new ArrayList<String>();
        for (int i = 1; i < parts.length; i++) {
            words.add(Names.address(parts[i]));
        }
        return String.join(".", words);
    }

    /** The path of a block without its part. */
    static String label(FlatBlock f) {
        return f.path().substring(f.path().indexOf('/') + 1);
    }

    /** A period as part of a name, such as {@code 100us}. */
    static String rateName(long nanos) {
        return nanos % 1_000_000_000 == 0 ? nanos / 1_000_000_000 + "s"
                : nanos % 1_000_000 == 0 ? nanos / 1_000_000 + "ms"
                : nanos % 1_000 == 0 ? nanos / 1_000 + "us" : nanos + "ns";
    }
}
