package boldanvil.core.asbuilt;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.LoweredSystem.Link;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Fact;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.Type;
import boldanvil.core.review.Review;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A project with the delays that its boards add between sampling and effect: conversion, computing, and the wait for the next update of a
 * timer. A model takes its inputs at the beginning of a step and drives its outputs at once; a device drives them later. The delay is put
 * into the plant behind the terminal, so that everything which runs or linearises the project sees it.
 *
 * @param project as the rig has it, with the delays
 * @param ways one for each output that acts on a plant
 * @param converters figures of the inputs, by part and terminal
 */
public record AsBuilt(Project project, List<Way> ways, Map<String, List<Fact>> converters) {
    /** A plant is stepped finer until its step is at most this many times its delay, so that the delay can be kept exactly. */
    private static final double STEPS = 2;
    /** How much finer, at most. */
    private static final int FINEST = 50;

    /**
     * The way of a value through a board.
     *
     * @param ready when all inputs can be read, in seconds from the beginning of a step
     * @param written when the fastest task has written its outputs, with the estimated time of computing
     * @param effect when the output acts
     * @param counted the delay as it is put in; less exact where the plant's step is long
     */
    public record Way(String part, String board, String terminal, double ready, double written, double effect, double counted) {}

    /**
     * Adds what the boards add that parts are patched to.
     *
     * @return without ways where no part has a patch, or where the project has errors
     */
    public static AsBuilt of(Project project, Rig rig) {
        Project as = project.as(rig);
        var system = LoweredSystem.of(as);
        if (system.hasErrors()) {
            return new AsBuilt(as, List.of(), Map.of());
        }
        var review = new Review(as, system, List.of());
        List<Way> ways = new ArrayList<>();
        Map<String, List<Fact>> converters = new LinkedHashMap<>();
        Project next = as;
        for (Part part : as.parts()) {
            var found = review.setup(rig, part.id());
            if (found.isEmpty()) {
                continue;
            }
            BoardSetup setup = found.get();
            double ready = 0;
            for (Terminal t : setup.program().terminals()) {
                if (t.isInput()) {
                    ready = Math.max(ready, Peripherals.of(t).readySeconds(setup, t));
                    List<Fact> facts = Peripherals.figures(setup, t);
                    if (!facts.isEmpty()) {
                        converters.put(part.id() + "." + t.name(), facts);
                    }
                }
            }
            double written = ready + LoadEstimate.of(setup).stream().findFirst().map(LoadEstimate.Row::responseSeconds).orElse(0.0);
            for (Terminal t : setup.program().terminals()) {
                if (!t.isInput() && Double.isFinite(written)) {
                    double effect = Peripherals.of(t).effectSeconds(setup, t, written);
                    for (Link l : system.links()) {
                        if (l.fromPart().equals(part.id()) && t.ports().contains(l.from()) && isPlantInput(system, l)) {
                            Project before = next;
                            next = delayed(next, system.program(l.toPart()).orElseThrow(), l, effect);
                            ways.add(new Way(part.id(), setup.board().title(), t.name(), ready, written, effect,
                                    next == before ? 0 : effect));
                        }
                    }
                }
            }
        }
        return new AsBuilt(next, List.copyOf(ways), converters);
    }

    /** The longest delay; 0 where there is none. */
    public double longest() {
        return ways.stream().mapToDouble(Way::effect).max().orElse(0);
    }

    private static boolean isPlantInput(LoweredSystem system, Link l) {
        return l.from().slot().type() != Type.BOOL && system.program(l.toPart()).filter(Program::continuous).isPresent();
    }

    private static Project delayed(Project p, Program receiver, Link l, double effect) {
        Part part = p.part(l.toPart()).orElseThrow();
        Sheet sheet = part.main();
        var entry = sheet.blocks().stream().filter(b -> b.name().equals(l.to().owner())).findFirst();
        List<Wire> driven = entry.stream().flatMap(b -> sheet.wires().stream().filter(w -> !w.isNet() && w.from().equals(b.id()))).toList();
        if (driven.isEmpty() || effect <= 0) {
            return p;
        }
        long finer = Math.clamp((long) Math.ceil(receiver.tickSeconds() / (STEPS * effect) - 1e-9), 1, FINEST);
        while (receiver.tickNanos() % finer != 0) {
            finer++;
        }
        long tickNanos = receiver.tickNanos() / finer;
        // The block lets a held value begin half a tick early, since it keeps straight lines between the ticks.
        double delay = Math.max(tickNanos * 1e-9, effect + tickNanos * 0.5e-9);
        String id = sheet.freshId();
        Sheet late = sheet.add(Block.of(id, "transport delay", "zz delay of " + entry.get().name(), 0, 0, Map.of("delay", delay + " s")))
                .redriven(driven, id, "y").add(new Wire(entry.get().id(), driven.getFirst().fromPort(), id, "u"));
        Project with = p.change(new SheetRef(part.id(), sheet.id()), _ -> late);
        return finer == 1 ? with : with.change(part.id(), x -> x.stepping(tickNanos + " ns"));
    }
}
