package boldanvil.core.build;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * The deepest stack from the call graphs that gcc writes with {@code -fcallgraph-info=su}. Calls out of the generated files, such as to the
 * mathematical library, are not in them.
 */
final class StackUse {
    private static final Pattern NODE =
            Pattern.compile("node: \\{ title: \"([^\"]+)\" label: \"[^\"]*?(\\d+) bytes \\((?:static|dynamic|bounded)[^\"]*\"");
    private static final Pattern EDGE = Pattern.compile("edge: \\{ sourcename: \"([^\"]+)\" targetname: \"([^\"]+)\"");

    private final Map<String, Long> frames = new HashMap<>();
    private final Map<String, Set<String>> calls = new HashMap<>();
    private final Map<String, Long> deepest = new HashMap<>();

    private StackUse(List<String> graphs) {
        for (String g : graphs) {
            NODE.matcher(g).results().forEach(m -> frames.put(plain(m.group(1)), Long.parseLong(m.group(2))));
            EDGE.matcher(g).results().forEach(m -> calls.computeIfAbsent(plain(m.group(1)), _ -> new HashSet<>()).add(plain(m.group(2))));
        }
    }

    /** Functions of one file are called after it there, those of others by their name alone. */
    private static String plain(String title) {
        return title.substring(title.lastIndexOf(':') + 1);
    }

    /** Bytes of stack of the deepest chain of calls; a recursion, which generated code has none of, is counted once. */
    static long of(List<String> graphs) {
        var use = new StackUse(graphs);
        return use.frames.keySet().stream().mapToLong(f -> use.depth(f, new HashSet<>())).max().orElse(0);
    }

    private long depth(String function, Set<String> above) {
        Long known = deepest.get(function);
        if (known != null) {
            return known;
        }
        if (!above.add(function)) {
            return 0;
        }
        long below = 0;
        for (String callee : calls.getOrDefault(function, Set.of())) {
            below = Math.max(below, depth(callee, above));
        }
        above.remove(function);
        long sum = frames.getOrDefault(function, 0L) + below;
        deepest.put(function, sum);
        return sum;
    }
}
