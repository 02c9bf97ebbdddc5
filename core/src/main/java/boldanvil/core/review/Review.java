package boldanvil.core.review;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.c.CNames;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.iec.StGenerator;
import boldanvil.core.lower.Lowered;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.patch.PatchCheck;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Type;
import boldanvil.core.tags.PartTags;
import boldanvil.core.tags.TagCheck;
import boldanvil.core.target.MappingCheck;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A project with everything that can be found out without running it.
 *
 * @param system the lowered parts
 * @param findings of the sheets, the patch, the rigs and the bench layout
 */
public record Review(Project project, LoweredSystem system, List<Finding> findings) {
    public Review {
        findings = List.copyOf(findings);
    }

    /** What is known of a project whose review is in progress: nothing of its parts, so that it cannot be run yet. */
    public static Review pending(Project project) {
        return new Review(project, LoweredSystem.of(Project.empty(project.name())),
                List.of(Finding.error("project", "The project is being checked.", "Wait until the check is done.")));
    }

    /** What stands for a review that failed for a reason nobody foresaw. */
    public static Review failed(Project project, Throwable cause) {
        return new Review(project, LoweredSystem.of(Project.empty(project.name())),
                List.of(Finding.error("project", "The project cannot be checked: " + Finding.reason(cause) + ".",
                "Undo the last change, and report the project.")));
    }

    /** Reviews a project. */
    public static Review of(Project project) {
        // Rigs differ in few parts, and often in the same way.
        Map<Part, Lowered> lowered = new HashMap<>();
        var system = LoweredSystem.of(project, lowered);
        List<Finding> findings = new ArrayList<>(system.findings());
        var boards = Boards.of(project);
        findings.addAll(boards.findings());
        project.patches().forEach((part, patch) -> {
            boolean required = PatchCheck.onDevice(project, part);
            if (project.part(part).isEmpty()) {
                findings.add(Finding.warning(Place.patch(part), "There is no part '" + part + "'.", "Remove its patch rows."));
            }
            system.program(part).ifPresent(p -> findings.addAll(PatchCheck.check(boards, p, patch, required
                    && isChosen(project, part, patch.board()))));
        });
        project.parts().stream().filter(p -> !CNames.isFreeForPart(p.id())).forEach(p -> findings.add(Finding.error(Place.sheet(p.id()),
                "The id '" + p.id() + "' is a name of the C language or of a file beside the part.", "Choose another id for the part.")));
        for (Rig rig : project.rigs()) {
            asRig(project, system, rig, lowered, findings);
            rig.places().forEach((part, place) -> {
                var at = new Place.Rig(rig.name(), part);
                if (project.part(part).isEmpty()) {
                    findings.add(Finding.error(at, "There is no part '" + part + "'.", "Remove it from the rig."));
                } else if (place.mode() == Rig.Mode.EMULATED) {
                    if (boards.find(place.device()).map(Board::emulator).isEmpty()) {
                        findings.add(Finding.error(at, "There is no emulator for '" + place.device() + "'.", "Boards with one are: "
                                + String.join(", ", boards.names(b -> b.emulator() != null)) + "."));
                    }
                } else if (place.mode() == Rig.Mode.PLC) {
                    plc(project, system, boards, part, place, at, findings);
                } else if (place.mode() == Rig.Mode.DEVICE) {
                    device(project, system, boards, part, place.device(), at, findings);
                }
            });
        }
        if (!system.hasErrors()) {
            bench(project, system, findings);
        }
        return new Review(project, system, findings);
    }

    /** Whether some rig puts a part on a device with this board. */
    private static boolean isChosen(Project project, String part, String board) {
        return project.rigs().stream().map(r -> r.place(part)).anyMatch(p -> p.mode() == Rig.Mode.DEVICE && p.device().equals(board));
    }

    /** What is wrong with a part on a device: no patch to it, or, where it is not the patch in use, what is wrong with that. */
    private static void device(Project project, LoweredSystem system, Boards boards, String part, String device, Place.Rig at,
            List<Finding> findings) {
        var patch = Optional.ofNullable(project.patches().get(part)).flatMap(p -> p.on(device));
        if (patch.isEmpty()) {
            findings.add(Finding.error(at, "The part has no patch for " + device + ".",
                    "Assign its terminals to that board on the patch sheet."));
            return;
        }
        var program = system.program(part);
        if (program.isPresent() && boards.find(device).isPresent()) {
            if (!patch.get().board().equals(project.patches().get(part).board())) {
                PatchCheck.check(boards, program.get(), patch.get(), true).forEach(
                        f -> findings.add(f.at(new Place.Rig(at.name(), part + " · " + f.place().text()))));
            }
            var rows = LoadEstimate.of(new BoardSetup(boards.require(at, device), patch.get(), program.get()));
            LoadEstimate.lateness(rows, boards.require(at, device)).ifPresent(cause -> findings.add(Finding.warning(at, cause,
                    "Choose longer sample times, a faster board, or float32; it can still be run for a test.")));
        }
    }

    /** What is wrong with a part on a PLC: what the PLC does not have, or what cannot be said in its language. */
    private static void plc(Project project, LoweredSystem system, Boards boards, String part, Rig.Place place, Place.Rig at,
            List<Finding> findings) {
        var board = boards.find(place.device()).filter(b -> b.plc() != null);
        if (board.isEmpty()) {
            findings.add(Finding.error(at, "There is no PLC '" + place.device() + "'.", "PLCs are: "
                    + String.join(", ", boards.names(b -> b.plc() != null)) + "."));
            return;
        }
        var plc = board.get().plc();
        String protocol = place.protocol();
        if (!plc.links().contains(protocol)) {
            findings.add(Finding.error(at, board.get().title() + " is not reached over '" + protocol + "'.", "Use one of: "
                    + String.join(", ", plc.links()) + "."));
        }
        var table = project.tagTable(part);
        if (PartTags.usesTable(place, table)) {
            system.program(part).ifPresent(p -> findings.addAll(TagCheck.check(part, p, table, protocol, place.own()
                    ? new Surroundings(plc.inputBytes(), plc.outputBytes(), plc.memoryBytes(), p.tickNanos(),
                            Surroundings.USUAL.loopRounds())
                    : null)));
            return;
        }
        system.program(part).ifPresent(p -> {
            if (p.tickNanos() < plc.leastIntervalNanos()) {
                findings.add(Finding.error(at, "The part runs every " + p.tickNanos() / 1e6 + " ms, the shortest task of " + board.get()
                        .title()
                        + " takes " + plc.leastIntervalNanos() / 1e6 + " ms.", "Choose longer sample times."));
            }
            if (!plc.longReal() && p.slots().stream().anyMatch(s -> s.type() == Type.FLOAT64)) {
                findings.add(Finding.error(at, board.get().title() + " has no real numbers of 64 bits.",
                        "Set the part's numbers to float32."));
            }
            p.ports().stream().filter(x -> x.terminal() != null).findFirst()
                    .ifPresent(x -> findings.add(Finding.error(Place.sheet(x.path()),
                    "'" + x.terminal().label() + "' is a peripheral that a PLC does not have.",
                    "Use an inlet or an outlet; on a PLC the ports of a part are its tags.")));
            try {
                StGenerator.of(p, Map.of());
            } catch (FindingException e) {
                findings.addAll(e.findings());
            }
        });
    }

    /** The patch of a part to a board; a finding where there is none. */
    public Patch patch(String part, String board) {
        return Optional.ofNullable(project.patches().get(part)).flatMap(p -> p.on(board))
                .orElseThrow(() -> FindingException.of(Place.patch(part),
                "The part has no patch for " + board + ".", "Assign its terminals to that board on the patch sheet."));
    }

    /** A part's board set up as a rig has it: the rig's device, else the board it is patched to; empty where there is none. */
    public Optional<BoardSetup> setup(Rig rig, String part) {
        var place = rig.place(part);
        var patch = Optional.ofNullable(project.patches().get(part)).flatMap(p -> place.mode() == Rig.Mode.DEVICE ? p.on(place.device())
                : Optional.of(p));
        return patch.flatMap(p -> Boards.of(project).find(p.board()).flatMap(
                b -> system.program(part).map(program -> new BoardSetup(b, p, program))));
    }

    /** What is wrong only with the bodies, the fidelity and the targets a rig chooses. */
    private static void asRig(Project project, LoweredSystem plain, Rig rig, Map<Part, Lowered> lowered, List<Finding> findings) {
        if (rig.paths().isEmpty() && rig.onTargets().isEmpty()) {
            return;
        }
        project.strayPaths(rig).forEach(path -> findings.add(Finding.error(Place.rig(rig.name(), path), "There is no block at this path.",
                "Correct the path, or remove it from the rig.")));
        var system = LoweredSystem.of(project.as(rig), lowered);
        for (Finding f : system.findings()) {
            if (!plain.findings().contains(f) && !findings.contains(f)) {
                findings.add(f.at(Place.rig(rig.name(), f.place().text())));
            }
        }
        findings.addAll(MappingCheck.check(project, system, rig).stream().filter(f -> !findings.contains(f)).toList());
    }

    private static void bench(Project project, LoweredSystem system, List<Finding> findings) {
        for (var c : project.bench().controls()) {
            if (!exists(c.tunable(), system, true)) {
                findings.add(Finding.warning(Place.bench(c.title()), "There is no tunable '" + c.tunable() + "'.",
                        "Choose an existing tunable, or remove the control."));
            }
        }
        for (var chart : project.bench().charts()) {
            chart.allTaps().forEach(tap -> tap(chart.title(), tap, system, findings, "remove it from the chart"));
        }
        project.bench().readouts().forEach(r -> r.taps().forEach(tap -> tap(r.title(), tap, system, findings, "remove the readout")));
        project.bench().drawings().forEach(d -> d.bindings().forEach(x -> tap(d.title(), x.tap(), system, findings,
                "remove the binding of '" + x.element() + "'")));
        project.bench().limits().forEach(l -> tap("limit on " + l.tap(), l.tap(), system, findings, "remove the limit"));
        for (var set : project.bench().sets()) {
            set.values().keySet().stream().filter(a -> !exists(a, system, true))
                    .forEach(a -> findings.add(Finding.warning(Place.bench("set " + set.name()),
                    "There is no tunable '" + a + "'.", "Remove the value from the set, or save the set again.")));
        }
    }

    private static void tap(String place, String tap, LoweredSystem system, List<Finding> findings, String otherwise) {
        if (!exists(tap, system, false)) {
            findings.add(Finding.warning(Place.bench(place), "There is no tap '" + tap + "'.",
                    "Choose an existing tap, or " + otherwise + "."));
        }
    }

    private static boolean exists(String address, LoweredSystem system, boolean tunable) {
        int dot = address.indexOf('.');
        var program = dot < 0 ? null : system.program(address.substring(0, dot)).orElse(null);
        String name = address.substring(dot + 1);
        return program != null && (tunable ? program.tunable(name).isPresent() : program.tap(name).isPresent());
    }

    public boolean hasErrors() {
        return findings.stream().anyMatch(Finding::isError);
    }

    /** This review, or an exception with its errors. */
    public Review orThrow() {
        if (hasErrors()) {
            throw new FindingException(findings.stream().filter(Finding::isError).toList());
        }
        return this;
    }

    /** The rig with a name, or a finding that says which there are. */
    public Rig rig(String name) {
        return project.rig(name).orElseThrow(() -> FindingException.of(Place.rig(name), "The project has no rig '" + name + "'.",
                "Rigs are: " + String.join(", ", project.rigs().stream().map(Rig::name).toList()) + "."));
    }
}
