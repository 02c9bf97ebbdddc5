package boldanvil.core.lower;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;

/** Makes identifiers of the names on a sheet. */
public final class Names {
    private final Set<String> used = new HashSet<>(Set.of("fault", "time", "ticks"));
    private final Map<String, Integer> counts = new HashMap<>();

    /** A name as part of an address: letters, digits and underscores, as the sheet spells them. */
    public static String address(String name) {
        var s = new StringBuilder(name.length());
        for (int i = 0; i < name.length(); i++) {
            char c = name.charAt(i);
            boolean plain = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9';
            if (plain) {
                s.append(c);
            } else if (!s.isEmpty() && s.charAt(s.length() - 1) != '_') {
                s.append('_');
            }
        }
        if (!s.isEmpty() && s.charAt(s.length() - 1) == '_') {
            s.setLength(s.length() - 1);
        }
        return s.isEmpty() ? "x" : s.toString();
    }

    /** The address of what a diagram path names: the part's id, and the names in it, with dots between. */
    public static String addressOf(String path) {
        String[] words = path.split("/");
        var s = new StringBuilder(words[0]);
        for (int i = 1; i < words.length; i++) {
            s.append('.').append(address(words[i]));
        }
        return s.toString();
    }

    /** An identifier like the wanted one that this program does not use yet. */
    String fresh(String wanted) {
        String base = address(wanted);
        if (Character.isDigit(base.charAt(0))) {
            base = "x_" + base;
        }
        if (base.length() > 55) {
            base = base.substring(base.length() - 55).replaceAll("^[_0-9]+", "");
        }
        String name = base;
        while (!used.add(name)) {
            // Counting continues where it ended, so that many like names take no longer each.
            name = base + "_" + counts.merge(base, 2, (n, _) -> n + 1);
        }
        return name;
    }

    /** The id of the part in which a diagram path is. */
    public static String partOf(String path) {
        int slash = path.indexOf('/');
        return slash < 0 ? path : path.substring(0, slash);
    }

    /** The address within its part of what has a diagram path. */
    public static String addressInPart(String path) {
        String address = addressOf(path);
        return address.substring(address.indexOf('.') + 1);
    }
}
