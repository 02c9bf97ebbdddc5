package boldanvil.core.files;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;

/** Writes JSON with keys in a fixed order and one entry of a list to a line. */
final class JsonLines {
    private static final JsonMapper MAPPER = new JsonMapper();

    private final List<String> members = new ArrayList<>();

    static String quote(Object value) {
        return MAPPER.writeValueAsString(value);
    }

    /** The JSON of a text; null, which leaves the member out, for an empty one. */
    static String given(String text) {
        return text.isEmpty() ? null : quote(text);
    }

    static String number(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e15 ? Long.toString((long) v) : Double.toString(v);
    }

    static String point(double x, double y) {
        return "[" + number(x) + ", " + number(y) + "]";
    }

    /** A list of texts on one line. */
    static String array(Collection<String> texts) {
        return texts.stream().map(JsonLines::quote).collect(Collectors.joining(", ", "[", "]"));
    }

    /** An object on one line; members are already JSON, nulls are left out. */
    static String line(Object... keysAndJson) {
        var s = new StringBuilder("{");
        for (int i = 0; i < keysAndJson.length; i += 2) {
            if (keysAndJson[i + 1] != null) {
                s.append(s.length() > 1 ? ", " : "").append(quote(keysAndJson[i])).append(": ").append(keysAndJson[i + 1]);
            }
        }
        return s.append('}').toString();
    }

    static String map(Map<String, String> map) {
        Object[] pairs = new Object[map.size() * 2];
        int i = 0;
        for (var e : map.entrySet()) {
            pairs[i++] = e.getKey();
            pairs[i++] = quote(e.getValue());
        }
        return line(pairs);
    }

    JsonLines put(String key, String json) {
        members.add(quote(key) + ": " + json);
        return this;
    }

    JsonLines text(String key, String value) {
        return put(key, quote(value));
    }

    /** A list with one entry a line. */
    JsonLines list(String key, List<String> entries) {
        return put(key, entries.isEmpty() ? "[]" : "[\n    " + String.join(",\n    ", entries) + "\n  ]");
    }

    @Override
    public String toString() {
        return "{\n  " + String.join(",\n  ", members) + "\n}\n";
    }
}
