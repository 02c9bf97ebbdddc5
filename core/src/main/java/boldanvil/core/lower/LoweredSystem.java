package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.TerminalKind.Pulses;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * All parts of a project and the wires between them.
 *
 * @param parts by part id, in the order of the project
 * @param links wires whose both ends exist
 * @param pulses what wires from PWM outputs to measuring inputs carry besides their values
 * @param findings of all parts, of the variables and of the system sheet
 */
public record LoweredSystem(Map<String, Lowered> parts, List<Link> links, List<PulseLink> pulses, List<Finding> findings) {
    /** A wire of the system sheet. */
    public record Link(String fromPart, Port from, String toPart, Port to) {}

    /**
     * A wire that brings a property of pulses along, which does not change while running.
     *
     * @param dead whether it is the dead time, in seconds; else the frequency, in hertz
     */
    public record PulseLink(String fromPart, Port from, String toPart, Port to, boolean dead) {}

    public LoweredSystem {
        parts = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(parts));
        links = List.copyOf(links);
        pulses = List.copyOf(pulses);
        findings = List.copyOf(findings);
    }

    /** Lowers every part of a project. */
    public static LoweredSystem of(Project project) {
        return of(project, new HashMap<>());
    }

    /**
     * Lowers every part of a project that is not known yet.
     *
     * @param known parts of the same project, as other rigs have it, that were lowered before; those lowered now are added
     */
    public static LoweredSystem of(Project project, Map<Part, Lowered> known) {
        List<Finding> findings = new ArrayList<>();
        var variables = Variables.resolve(project.variableTexts());
        variables.errors().forEach((name, error) -> findings.add(Finding.error(new Place.Variable(name), error,
                "Correct the value of '" + name + "'.")));
        Map<String, Lowered> parts = new LinkedHashMap<>();
        for (Part p : project.parts()) {
            var lowered = known.computeIfAbsent(p, x -> PartLowering.lower(x, variables.values()));
            if (parts.putIfAbsent(p.id(), lowered) != null) {
                findings.add(Finding.error(Place.sheet(p.id()), "Two parts have this id.", "Rename one of them."));
            }
            findings.addAll(lowered.findings());
        }
        List<PulseLink> pulses = new ArrayList<>();
        return new LoweredSystem(parts, links(project, parts, pulses, findings), pulses, findings);
    }

    private static List<Link> links(Project project, Map<String, Lowered> parts, List<PulseLink> pulses, List<Finding> findings) {
        List<Link> links = new ArrayList<>();
        Set<String> driven = new HashSet<>();
        for (Wire w : project.wires()) {
            Place place = Place.sheet("", w.from() + "." + w.fromPort() + " → " + w.to() + "." + w.toPort());
            if (w.isNet()) {
                findings.add(Finding.error(place, "A net joins two parts.",
                        "Join parts by wires from outputs to inputs; draw the net within one part."));
                continue;
            }
            if (!parts.containsKey(w.from()) || !parts.containsKey(w.to())) {
                findings.add(Finding.error(place, "The wire ends at a part that does not exist.", "Delete the wire."));
                continue;
            }
            var a = parts.get(w.from()).program();
            var b = parts.get(w.to()).program();
            if (a.isEmpty() || b.isEmpty()) {
                driven.add(w.to() + "." + w.toPort());
                continue;
            }
            var from = a.get().port(w.fromPort()).filter(p -> !p.isInput() && p.isOnSystemSheet());
            var to = b.get().port(w.toPort()).filter(p -> p.isInput() && p.isOnSystemSheet());
            if (from.isEmpty() || to.isEmpty()) {
                findings.add(Finding.error(place, "The wire ends at a port that does not exist.",
                        "Delete the wire, or name the inlet, outlet or terminal as the wire expects."));
            } else if (!driven.add(w.to() + "." + w.toPort())) {
                findings.add(Finding.error(place, "Two wires drive this input.", "Delete one of them."));
            } else if ((from.get().slot().type() == boldanvil.core.program.Type.BOOL)
                    != (to.get().slot().type() == boldanvil.core.program.Type.BOOL)) {
                findings.add(Finding.error(place, "A " + from.get().slot().type().label() + " signal is connected to a "
                        + to.get().slot().type().label() + " input.", "Insert a Compare or Type conversion block in one of the parts."));
            } else if (pulses(from.get()).isGiven() && pulses(to.get()) == Pulses.TAKES && to.get().name().equals(to.get().owner())) {
                var duty = b.get().port(to.get().owner() + " duty").orElseThrow();
                driven.add(w.to() + "." + duty.name());
                links.add(new Link(w.from(), from.get(), w.to(), duty));
                pulses.add(new PulseLink(w.from(), from.get(), w.to(), to.get(), false));
            } else if (pulses(from.get()).isGiven() && pulses(to.get()) == Pulses.TAKES_DEAD_TIME) {
                if (pulses(from.get()) == Pulses.GIVES) {
                    findings.add(Finding.error(place, "'" + from.get().name() + "' is a single output; there is no second edge to measure.",
                            "Set its outputs to a complementary pair, or connect a signal in seconds."));
                }
                pulses.add(new PulseLink(w.from(), from.get(), w.to(), to.get(), true));
            } else {
                units(place, from.get(), to.get(), findings);
                links.add(new Link(w.from(), from.get(), w.to(), to.get()));
            }
        }
        parts.forEach((id, part) -> part.program().ifPresent(program -> program.ports().stream()
                .filter(p -> p.isInput() && p.wire() == Port.Wire.NEEDED && !driven.contains(id + "." + p.name()))
                .forEach(p -> findings.add(Finding.error(Place.sheet("", id + "." + p.name()), "The input is not connected.",
                        "Draw a wire to it on the system sheet.")))));
        return links;
    }

    private static Pulses pulses(Port p) {
        return p.terminal() == null ? Pulses.NONE : p.terminal().pulses();
    }

    private static void units(Place place, Port from, Port to, List<Finding> findings) {
        var a = Dimension.of(from.slot().unit());
        var b = Dimension.of(to.slot().unit());
        if (a.isPresent() && b.isPresent() && !a.get().fits(b.get())) {
            findings.add(Finding.warning(place, "The wire carries " + from.slot().unit() + " to an input that takes " + to.slot()
                    .unit() + ".",
                    "Correct the unit of one of the ports."));
        }
    }

    public boolean hasErrors() {
        return findings.stream().anyMatch(Finding::isError);
    }

    /** The program of a part, if it has one. */
    public Optional<Program> program(String partId) {
        return Optional.ofNullable(parts.get(partId)).flatMap(Lowered::program);
    }

    /** The longest tick that divides the ticks of all parts, in nanoseconds; 0 without a part that has a program. */
    public long tickNanos() {
        return parts.values().stream().flatMap(p -> p.program().stream()).map(Program::tickNanos).reduce(0L, Schedule::gcd);
    }

    /** This system, or an exception with its errors. */
    public LoweredSystem orThrow() {
        if (hasErrors()) {
            throw new FindingException(findings.stream().filter(Finding::isError).toList());
        }
        return this;
    }
}
