package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.app.model.TagBindings;
import boldanvil.app.model.TagBindings.SignalRow;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.AccessStore;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.review.Review;
import boldanvil.core.tags.TagFile;
import boldanvil.core.tags.TagSources;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Imports the tags of a PLC, binds them to the ports of a part, and shows the result. */
@Command(name = "tags", mixinStandardHelpOptions = true,
        description = "Shows what the ports of a part are bound to on a PLC; imports tags, binds them in bulk, exports them. "
        + "Exit status 1: a port has no tag, or one it cannot be bound to.")
final class TagsCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--part", description = "The part. Default: the first with tags, or on a PLC in some rig.")
    private String part;

    @Option(names = "--import", paramLabel = "FILE", description =
            "Read tags from a CSV table, a program in Structured Text or an exchange file of PLCopen, and save them. A program "
            + "becomes the one the stand-in runs.")
    private List<Path> imported = List.of();

    @Option(names = "--browse", paramLabel = "DEVICE", description =
            "Read tags from a device, such as opcua://192.168.0.20:4840, and save them.")
    private String browsed;

    @Option(names = "--user", paramLabel = "NAME=PASSWORD",
            description = "How to sign in at the device; without it, as this user signed in before.")
    private Map<String, String> user = new LinkedHashMap<>();

    @Option(names = "--encrypted", description = "Sign and encrypt messages to the device.")
    private boolean encrypted;

    @Option(names = "--bind", paramLabel = "RULE", description =
            "Bind each free port to the tag whose name the rule makes, and save. In it {part} and {port} are replaced; {port} alone "
            + "binds the same names.")
    private String rule;

    @Option(names = "--suggest", description = "Bind each free port to the tag whose name is most like its own, and save.")
    private boolean suggest;

    @Option(names = "--csv", paramLabel = "FILE", description = "Write the tags with what is bound to them as CSV.")
    private Path csv;

    @Option(names = "--skeleton", paramLabel = "FILE", description =
            "Write a program with the declarations of the ports; .xml as PLCopen XML, else as Structured Text.")
    private Path skeleton;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        Project read = ProjectReader.read(project);
        PrintWriter out = spec.commandLine().getOut();
        TagBindings before = bindings(read);
        TagBindings now = edited(before);
        String name = now.part();
        if (!now.table().equals(before.table())) {
            ProjectWriter.write(read.withTags(name, now.table()), project);
        }
        if (csv != null) {
            Reports.whole(csv, f -> Files.writeString(f, TagFile.write(now.table())));
        }
        if (skeleton != null) {
            Reports.whole(skeleton, f -> Files.writeString(f, skeleton.toString().endsWith(".xml") ? now.skeletonXml() : now.skeleton()));
        }
        var rows = now.signals("").stream().filter(r -> r.signal().isPort() || !r.tag().isEmpty()).toList();
        if (json.isJson()) {
            json.print(Map.of("part", name, "tags", now.table().lines().size(), "signals", rows.stream().map(TagsCommand::values)
                    .toList()));
        } else {
            rows.forEach(r -> out.printf("%-28s %-8s %-24s %-30s %s%n", r.signal().name(), r.signal().use().label(), r.tag().isEmpty() ? "—"
                    : r.tag(), r.address(), r.problem().isEmpty() ? r.conversion() : "✕ " + r.problem()));
            out.println(now.summary());
        }
        return rows.stream().allMatch(r -> r.problem().isEmpty() && !r.tag().isEmpty()) ? 0 : 1;
    }

    private static Map<String, Object> values(SignalRow r) {
        return Map.of("signal", r.signal().name(), "use", r.signal().use().label(), "tag", r.tag(), "address", r.address(), "conversion",
                r.conversion(), "problem", r.problem());
    }

    /** With everything that was asked for, in the order of the options. */
    private TagBindings edited(TagBindings before) {
        TagBindings now = before;
        for (Path file : imported) {
            var found = now.imported(file);
            found.remarks().forEach(r -> spec.commandLine().getErr().println(r));
            now = now.with(found.table());
        }
        if (browsed != null) {
            now = now.with(now.withTags(browse()));
        }
        if (rule != null) {
            now = now.with(now.boundByRule(rule));
        }
        return suggest ? now.with(now.accepted(now.suggestions())) : now;
    }

    private String part(Review review) {
        if (part != null) {
            return review.project().part(part).orElseThrow(() -> FindingException.of(Place.sheet(""), "There is no part '" + part + "'.",
                    "Name one of the parts of the project.")).id();
        }
        var parts = TagBindings.parts(review, "");
        if (parts.isEmpty()) {
            throw FindingException.of(Place.sheet(""), "The project has no part whose sheet can be compiled.", "Correct its errors first.");
        }
        return parts.getFirst();
    }

    private TagBindings bindings(Project p) {
        var review = Review.of(p);
        String name = part(review);
        // Addresses are shown as the first rig that runs the PLC's own program reaches them.
        String rig = p.rigs().stream().filter(r -> r.place(name).mode() == Rig.Mode.PLC && r.place(name).own()).map(Rig::name).findFirst()
                .orElse("");
        return TagBindings.of(review, rig, name).orElseThrow(() -> FindingException.of(Place.sheet(name),
                "The sheet of the part has errors.", "Correct them first."));
    }

    private List<TagTable.Line> browse() {
        var at = Endpoint.parse(browsed);
        var kept = AccessStore.ofUser().find(at);
        var sign = user.entrySet().stream().findFirst().map(e -> new Access(e.getKey(), e.getValue(), encrypted))
                .orElse(new Access(kept.user(), kept.password(), encrypted || kept.encrypted()));
        try (var link = LinkProtocol.of(at).tags(at, Place.named(at.toString()), sign)) {
            return TagSources.ofDevice(link, Place.named(at.toString()), () -> false);
        }
    }
}
