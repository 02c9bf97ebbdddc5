package boldanvil.app.model;

import boldanvil.core.coverage.Coverage;
import boldanvil.core.coverage.Coverage.OfBlock;
import boldanvil.core.coverage.Coverage.Share;
import boldanvil.core.diagram.Sheet;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What plates of a sheet show of the coverage by trials. */
public final class CoverageMarks {
    private CoverageMarks() {}

    /**
     * The share of each block, with what is in it, by block id.
     *
     * @param path diagram path of the sheet
     */
    public static Map<String, String> of(Map<String, Coverage> coverage, Sheet sheet, String path) {
        List<OfBlock> all = coverage.values().stream().flatMap(c -> c.blocks().stream()).toList();
        Map<String, String> marks = new HashMap<>();
        sheet.blocks().forEach(b -> {
            String own = path.isEmpty() ? b.name() : path + "/" + b.name();
            int seen = 0;
            int of = 0;
            for (OfBlock x : all) {
                if (x.path().equals(own) || x.path().startsWith(own + "/")) {
                    Share s = x.all();
                    seen += s.seen();
                    of += s.of();
                }
            }
            if (of > 0) {
                marks.put(b.id(), seen == of ? "covered" : String.format(Locale.ROOT, "%.0f %% covered", Math.floor(100.0 * seen / of)));
            }
        });
        return marks;
    }
}
