package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.OwnBlocks;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Finds a text in the names, values, notes and texts of a project, and replaces it. */
public final class Search {
    /** What kind of text it is found in. */
    public enum Field { NAME, TYPE, VALUE, NOTE }

    /**
     * A text with what was wanted.
     *
     * @param key which of its kind: a setting, or empty
     * @param text the line it is in
     * @param sheet where it is; null for variables
     * @param id of the block or mark; name of the variable
     */
    public record Hit(Place place, Field field, String key, String text, SheetRef sheet, String id) {}

    private final Pattern pattern;

    /**
     * @param text what to find
     * @param matchCase whether capital and small letters differ
     * @param words whether only whole words count
     */
    public Search(String text, boolean matchCase, boolean words) {
        String quoted = Pattern.quote(text);
        pattern = Pattern.compile(words ? "(?<![\\p{L}\\p{N}_])" + quoted + "(?![\\p{L}\\p{N}_])" : quoted,
                matchCase ? 0 : Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE);
    }

    private boolean has(String text) {
        return pattern.matcher(text).find();
    }

    /** All places, in the order of the project. */
    public List<Hit> in(Project p) {
        List<Hit> hits = new ArrayList<>();
        for (Variable v : p.variables()) {
            Place at = new Place.Variable(v.name());
            add(hits, v.name(), new Hit(at, Field.NAME, "", v.name(), null, v.name()));
            add(hits, v.value(), new Hit(at, Field.VALUE, "", v.value(), null, v.name()));
            add(hits, v.note(), new Hit(at, Field.NOTE, "", v.note(), null, v.name()));
        }
        Map<SheetRef, List<String>> paths = Paths.of(p);
        for (Part part : p.parts()) {
            add(hits, part.title(), new Hit(Place.sheet(part.id()), Field.NAME, "", part.title(), null, part.id()));
        }
        p.sheets().forEach((ref, s) -> sheet(p.library(), ref, s, Paths.first(paths, ref), hits));
        return hits;
    }

    private void sheet(Library library, SheetRef ref, Sheet s, String path, List<Hit> hits) {
        for (Block b : s.blocks()) {
            String at = path + "/" + b.name();
            add(hits, b.name(), new Hit(Place.sheet(at), Field.NAME, "", b.name(), ref, b.id()));
            String type = OwnBlocks.type(library, b).map(t -> t.title()).orElse(b.type());
            add(hits, type, new Hit(Place.sheet(at), Field.TYPE, "", type, ref, b.id()));
            b.settings().forEach((key, value) -> {
                if (!key.equals("sheet") && has(value)) {
                    hits.add(new Hit(Place.sheet(at, key), Field.VALUE, key, line(value), ref, b.id()));
                }
            });
        }
        for (Mark m : s.marks()) {
            if (has(m.text())) {
                hits.add(new Hit(Place.sheet(path), Field.NOTE, "", line(m.text()), ref, m.id()));
            }
        }
    }

    private void add(List<Hit> hits, String text, Hit hit) {
        if (has(text)) {
            hits.add(hit);
        }
    }

    /** The first line of a text with what was wanted. */
    private String line(String text) {
        for (String l : text.split("\n")) {
            if (has(l)) {
                return l.strip();
            }
        }
        return text;
    }

    private String replaced(String text, String with) {
        return pattern.matcher(text).replaceAll(Matcher.quoteReplacement(with));
    }

    /**
     * Replaces the text at some places. Renamed variables and blocks are followed everywhere; types are not replaced.
     *
     * @throws FindingException when a name that results is taken or cannot be a name
     */
    public Project replace(Project p, List<Hit> hits, String with) {
        Project next = p;
        for (Hit h : hits) {
            next = switch (h.field()) {
                case TYPE -> next;
                case NAME -> h.sheet() != null ? name(next, h, with) : h.place() instanceof Place.Variable
                        ? Renaming.variable(next, h.id(), replaced(h.id(), with))
                        : next.change(h.id(), q -> q.titled(replaced(q.title(), with)));
                case VALUE -> h.sheet() == null ? variable(next, h, v -> v.valued(replaced(v.value(), with)))
                        : next.change(h.sheet(), s -> s.change(h.id(), b -> b.with(h.key(), replaced(b.settings().get(h.key()), with))));
                case NOTE -> h.sheet() == null ? variable(next, h, v -> new Variable(v.name(), v.value(), replaced(v.note(), with),
                        v.unit(),
                        v.group()))
                        : next.change(h.sheet(), s -> s.withMarks(s.marks().stream().map(m -> m.id().equals(h.id())
                                ? m.saying(replaced(m.text(), with)) : m).toList()));
            };
        }
        return next;
    }

    private Project name(Project p, Hit h, String with) {
        String name = replaced(p.sheet(h.sheet()).flatMap(s -> s.block(h.id())).orElseThrow().name(), with);
        return Renaming.block(p, h.sheet(), h.id(), name);
    }

    private static Project variable(Project p, Hit h, java.util.function.UnaryOperator<Variable> how) {
        return p.withVariables(p.variables().stream().map(v -> v.name().equals(h.id()) ? how.apply(v) : v).toList());
    }

    /** What kind a hit is, in words. */
    public static String words(Hit h) {
        return h.field() == Field.VALUE && !h.key().isEmpty() ? h.key() : h.field().name().toLowerCase(Locale.ROOT);
    }
}
