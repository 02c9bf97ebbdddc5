package boldanvil.core.evidence;

import boldanvil.core.coverage.Coverage;
import boldanvil.core.coverage.Coverage.OfBlock;
import boldanvil.core.coverage.Coverage.Share;
import boldanvil.core.report.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** How much of the parts ran in some trials together. */
public final class CoverageReport {
    private static final List<String> COLUMNS = List.of("Block", "Outcomes", "Condition values", "Effects", "Table entries", "Not seen");

    private CoverageReport() {}

    /** The coverage of all records together, by part; of parts that differ between projects or rigs, by part and where. */
    public static Map<String, Coverage> merged(List<TrialRecord> records) {
        Map<String, Coverage> all = new LinkedHashMap<>();
        for (TrialRecord r : records) {
            r.coverage().forEach((part, c) -> {
                String name = part;
                if (all.containsKey(part) && !all.get(part).isAlike(c)) {
                    name = part + " in " + r.made().getOrDefault("project", "") + " on " + r.rig();
                }
                all.merge(name, c, Coverage::with);
            });
        }
        return all;
    }

    /** A row for each block that decides something or reads a table, after one for each part. */
    public static Table table(List<TrialRecord> records) {
        List<List<String>> rows = new ArrayList<>();
        merged(records).forEach((part, c) -> {
            if (!c.blocks().isEmpty()) {
                rows.add(row(part, c.total(), ""));
                c.blocks().forEach(b -> rows.add(row(b.path(), b, String.join("; ", b.missing()))));
            }
        });
        return new Table("Coverage by these trials", List.of(
                "Outcomes: each decision true and false. Effects: conditions that decided an outcome, true and false."), COLUMNS, rows);
    }

    private static List<String> row(String name, OfBlock b, String missing) {
        return List.of(name, text(b.outcomes()), text(b.values()), text(b.effects()), text(b.entries()), missing);
    }

    /** All shares of a block or a part, in a line. */
    public static String text(OfBlock b) {
        return "outcomes " + text(b.outcomes()) + ", values of conditions " + text(b.values()) + ", effects " + text(b.effects())
                + ", table entries " + text(b.entries());
    }

    /** A share as people read it; a dash for none. */
    public static String text(Share s) {
        return s.of() == 0 ? "–" : String.format(Locale.ROOT, "%d of %d (%.0f %%)", s.seen(), s.of(), s.percent());
    }
}
