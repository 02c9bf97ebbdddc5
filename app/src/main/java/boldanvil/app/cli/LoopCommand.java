package boldanvil.app.cli;

import boldanvil.core.asbuilt.AsBuilt;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.loop.Tolerances;
import boldanvil.core.quantity.Variables;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Margins of a loop, for people and build servers. */
@Command(name = "loop", mixinStandardHelpOptions = true,
        description = "Opens a control loop at a wire, makes it linear at an operating point "
        + "and prints its margins and the modes of the closed loop. Exit 1 when a margin is below what is demanded, or the closed loop "
        + "is not stable.")
final class LoopCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--at", required = true, paramLabel = "BLOCK",
            description = "Diagram path of the block at whose output the loop is opened, "
            + "such as 'controller/current loop/voltage'; with .PORT for another output than the first.")
    private String at;

    @Option(names = "--rig", description = "The rig; default: the first one.")
    private String rig;

    @Option(names = "--after", paramLabel = "TIME", defaultValue = "0s", description = "How long the rig runs before, so that it is at its "
            + "operating point. Default ${DEFAULT-VALUE}.")
    private String after;

    @Option(names = "--set", paramLabel = "PART.TUNABLE=VALUE@TIME", description = "Changes a tunable on the way; may be repeated.")
    private List<String> sets = new ArrayList<>();

    @Option(names = "--gain", defaultValue = "1", description = "Factor to the gain of the loop. Default ${DEFAULT-VALUE}.")
    private double gain;

    @Option(names = "--phase-margin", paramLabel = "DEGREES", description = "Least phase margin that is demanded.")
    private Double phaseMargin;

    @Option(names = "--gain-margin", paramLabel = "DECIBELS", description = "Least gain margin that is demanded, up and down.")
    private Double gainMargin;

    @Option(names = "--delay-margin", paramLabel = "TIME", description = "Least delay that the loop must stand, such as 200us.")
    private String delayMargin;

    @Option(names = "--vary", paramLabel = "VARIABLE=LOW:HIGH",
            description = "Limits of a variable; the demands must hold at every corner. May "
            + "be repeated.")
    private List<String> varied = new ArrayList<>();

    @Option(names = "--random", defaultValue = "0", description = "As many more cases with random values between the limits.")
    private int random;

    @Option(names = "--as-built", description = "Counts the delays of the boards that parts are patched to: conversion, computing, timers.")
    private boolean asBuilt;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        Project drawn = ProjectReader.read(project);
        Rig chosen = Texts.rig(drawn, rig);
        AsBuilt built = asBuilt ? AsBuilt.of(drawn, chosen) : new AsBuilt(drawn, List.of(), Map.of());
        if (asBuilt && built.ways().isEmpty()) {
            throw FindingException.of(Place.rig(chosen.name()), "No part drives a plant from a board.",
                    "Patch the controller to a board, or leave out --as-built.");
        }
        Project read = built.project();
        var point = new Linearisation.OperatingPoint(after.equals("0s") ? 0 : Texts.nanos("--after", after) / 1e9,
                sets.stream().map(s -> Texts.change(s, read)).toList());
        Cut cut = Cut.at(read, at);
        List<Tolerances.Case> cases = Tolerances.of(read, chosen, cut, point, varied.stream().map(v -> tolerance(read, v)).toList(),
                Math.clamp(random, 0, 10_000), 1);
        OpenLoop loop = cases.getFirst().loop();
        var response = loop.response();
        Margins m = gain == 1 ? cases.getFirst().margins() : Margins.of(w -> response.apply(w).multiply(gain),
                Tolerances.frequencies(loop));
        OpenLoop.Closed closed;
        try {
            closed = loop.closed(gain);
        } catch (NoSolutionException e) {
            throw FindingException.of(Place.sheet(at), e.getMessage(), e.cure());
        }
        List<String> missed = new ArrayList<>(missed(m, closed.isStable(), ""));
        for (Tolerances.Case c : cases.subList(1, cases.size())) {
            missed.addAll(missed(c.margins(), c.isStable(), " With " + c.values().entrySet().stream().map(e -> String.format(Locale.ROOT,
                    "%s = %.6g", e.getKey(), e.getValue())).collect(Collectors.joining(", ")) + "."));
        }
        if (json.isJson()) {
            var values = values(cut.label(read), loop, m, closed, missed);
            if (asBuilt) {
                values.put("boardDelaySeconds", built.longest());
            }
            worst(cases).ifPresent(w -> values.put("worst", Map.of("values", w.values(), "phaseMarginDegrees",
                    w.margins().phase().map(c -> Math.toDegrees(c.value())).orElse(0.0), "stable", w.isStable())));
            json.print(values);
        } else {
            print(cut.label(read), loop, m, closed, missed);
            if (asBuilt) {
                spec.commandLine().getOut().printf(Locale.ROOT, "With the delays of the board: %.4g s from sample to effect.%n",
                        built.longest());
            }
            worst(cases).ifPresent(w -> spec.commandLine().getOut().printf(Locale.ROOT, "Least phase margin of %d cases: %s with %s.%n",
                    cases.size(), w.margins().phase().map(c -> String.format(Locale.ROOT, "%.2f °", Math.toDegrees(c.value())))
                            .orElse("none"),
                    w.values()));
        }
        return missed.isEmpty() ? 0 : 1;
    }

    /** The case with the least phase margin; one that is not stable first. */
    private static Optional<Tolerances.Case> worst(List<Tolerances.Case> cases) {
        return cases.size() < 2 ? Optional.empty() : cases.stream().skip(1).min(Comparator.comparing(Tolerances.Case::isStable)
                .thenComparing(c -> c.margins().phase().map(Margins.Crossing::value).orElse(Math.PI)));
    }

    private static Tolerances.Tolerance tolerance(Project read, String text) {
        var limits = Texts.limits("--vary", text, Variables.resolve(read.variableTexts()).values());
        return new Tolerances.Tolerance(limits.variable(), limits.low(), limits.high());
    }

    private List<String> missed(Margins m, boolean stable, String with) {
        List<String> all = new ArrayList<>();
        if (!stable) {
            all.add("The closed loop is not stable." + with);
        }
        if (phaseMargin != null && m.phase().isPresent() && Math.toDegrees(m.phase().get().value()) < phaseMargin) {
            all.add(String.format(Locale.ROOT, "The phase margin is below %.4g°.", phaseMargin) + with);
        }
        if (gainMargin != null && (m.up().isPresent() && Bode.decibels(m.up().get().value()) < gainMargin
                || m.down().isPresent() && -Bode.decibels(m.down().get().value()) < gainMargin)) {
            all.add(String.format(Locale.ROOT, "A gain margin is below %.4g dB.", gainMargin) + with);
        }
        if (delayMargin != null && m.delay().isPresent() && m.delay().get().value() < Texts.nanos("--delay-margin", delayMargin) / 1e9) {
            all.add("The loop does not stand a delay of " + delayMargin + "." + with);
        }
        return all;
    }

    private void print(String label, OpenLoop loop, Margins m, OpenLoop.Closed closed, List<String> missed) {
        var out = spec.commandLine().getOut();
        out.printf(Locale.ROOT, "Loop at %s, sampled every %.6g s, %d states, at %.6g s.%n", label, loop.samplePeriod(), loop.states()
                .size(),
                loop.seconds());
        line("phase margin", m.phase().map(c -> String.format(Locale.ROOT, "%10.2f °  at %11.5g rad/s", Math.toDegrees(c.value()),
                c.omega())));
        line("gain margin up", m.up().map(c -> String.format(Locale.ROOT, "%10.2f dB at %11.5g rad/s", Bode.decibels(c.value()),
                c.omega())));
        line("gain margin down", m.down().map(c -> String.format(Locale.ROOT, "%10.2f dB at %11.5g rad/s", Bode.decibels(c.value()),
                c.omega())));
        line("delay margin", m.delay().map(c -> String.format(Locale.ROOT, "%10.4g s  at %11.5g rad/s", c.value(), c.omega())));
        line("peak of sensitivity", Optional.of(String.format(Locale.ROOT, "%10.3f    at %11.5g rad/s", m.peak().value(), m.peak()
                .omega())));
        out.printf("%n%-36s %14s %10s%n", "modes of the closed loop, z", "rad/s", "damping");
        for (var mode : closed.modes()) {
            out.printf(Locale.ROOT, "%15.6f %s %-15s %17.5g %10.4f%n", mode.pole().getRealPart(), mode.pole().getImaginaryPart() == 0 ? " "
                    : "±",
                    mode.pole().getImaginaryPart() == 0 ? "" : String.format(Locale.ROOT, "j %.6f", mode.pole().getImaginaryPart()),
                    mode.omega(), mode.damping());
        }
        if (!loop.frozen().isEmpty()) {
            out.println("Held as they were, since they are in no ring with the wire: " + String.join(", ", loop.frozen()) + ".");
        }
        missed.forEach(out::println);
    }

    private void line(String name, Optional<String> value) {
        spec.commandLine().getOut().printf("%-20s %s%n", name, value.orElse("      none"));
    }

    private static Map<String, Object> values(String label, OpenLoop loop, Margins m, OpenLoop.Closed closed, List<String> missed) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("at", label);
        all.put("sampleTime", loop.samplePeriod());
        all.put("seconds", loop.seconds());
        all.put("states", loop.states());
        all.put("phaseMarginDegrees", m.phase().map(c -> Math.toDegrees(c.value())).orElse(null));
        all.put("crossover", m.phase().map(Margins.Crossing::omega).orElse(null));
        all.put("gainMarginUpDecibels", m.up().map(c -> Bode.decibels(c.value())).orElse(null));
        all.put("gainMarginDownDecibels", m.down().map(c -> Bode.decibels(c.value())).orElse(null));
        all.put("delayMarginSeconds", m.delay().map(Margins.Crossing::value).orElse(null));
        all.put("peakSensitivity", m.peak().value());
        all.put("stable", closed.isStable());
        all.put("modes", closed.modes().stream().map(mode -> Map.of("real", mode.pole().getRealPart(), "imaginary",
                mode.pole().getImaginaryPart(), "omega", mode.omega(), "damping", mode.damping())).toList());
        all.put("missed", missed);
        return all;
    }
}
