package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Type;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Puts the blocks of one task in an order in which each comes after those its outputs depend on, otherwise in the order of
 * the sheet (Kahn, Topological sorting of large networks, CACM 5, 1962). A subsystem that runs as one keeps its blocks together.
 * What cannot be ordered is an algebraic loop: a finding in a controller, a system of equations in a plant.
 */
final class Sorter {
    private final Set<FlatBlock> task = Collections.newSetFromMap(new IdentityHashMap<>());
    private final List<Finding> findings;
    private final boolean solvesLoops;

    private Sorter(List<FlatBlock> blocks, List<Finding> findings, boolean solvesLoops) {
        this.task.addAll(blocks);
        this.findings = findings;
        this.solvesLoops = solvesLoops;
    }

    /**
     * @param blocks all of one task, in sheet order
     * @param solvesLoops whether loops become equations
     */
    static List<Unit> sort(List<FlatBlock> blocks, List<Finding> findings, boolean solvesLoops) {
        return new Sorter(blocks, findings, solvesLoops).level(blocks, null);
    }

    /** One thing to order: a block, or all blocks of a subsystem that runs as one. */
    private static final class Node {
        final Group group;
        final List<FlatBlock> blocks = new ArrayList<>();
        final List<Integer> readers = new ArrayList<>();
        final List<Integer> sources = new ArrayList<>();
        int waitsFor;

        Node(Group group) {
            this.group = group;
        }
    }

    private List<Unit> level(List<FlatBlock> blocks, Group outer) {
        List<Node> nodes = new ArrayList<>();
        Map<FlatBlock, Integer> index = new IdentityHashMap<>();
        Map<Group, Integer> groups = new LinkedHashMap<>();
        for (FlatBlock f : blocks) {
            Group g = f.group() == outer ? null : f.group().below(outer);
            int at = g == null ? nodes.size() : groups.computeIfAbsent(g, _ -> nodes.size());
            if (at == nodes.size()) {
                nodes.add(new Node(g));
            }
            nodes.get(at).blocks.add(f);
            index.put(f, at);
        }
        for (int i = 0; i < nodes.size(); i++) {
            Node n = nodes.get(i);
            for (FlatBlock f : n.blocks) {
                for (FlatBlock before : directSources(f)) {
                    join(nodes, i, index.get(before));
                }
            }
            if (n.group != null && n.group.control() != null && task.contains(n.group.control().block())) {
                join(nodes, i, index.get(n.group.control().block()));
            }
        }
        return ordered(nodes);
    }

    private static void join(List<Node> nodes, int reader, Integer source) {
        if (source != null && source != reader) {
            nodes.get(source).readers.add(reader);
            nodes.get(reader).sources.add(source);
            nodes.get(reader).waitsFor++;
        } else if (source != null && nodes.get(reader).group == null) {
            // A block that feeds itself never becomes ready.
            nodes.get(reader).sources.add(source);
            nodes.get(reader).waitsFor++;
        }
    }

    private List<Unit> ordered(List<Node> nodes) {
        var ready = new PriorityQueue<Integer>(Comparator.naturalOrder());
        for (int i = 0; i < nodes.size(); i++) {
            if (nodes.get(i).waitsFor == 0) {
                ready.add(i);
            }
        }
        List<Unit> order = new ArrayList<>(nodes.size());
        int done = 0;
        while (done < nodes.size()) {
            if (ready.isEmpty()) {
                // Everything left waits for a loop. Take one loop that waits for no other.
                List<Integer> loop = sourceLoop(nodes);
                if (solvesLoops && solvable(loop, nodes)) {
                    order.add(tear(loop.stream().map(i -> nodes.get(i).blocks.getFirst()).toList()));
                } else {
                    report(nodes, loop);
                }
                for (int i : loop) {
                    nodes.get(i).waitsFor = -1;
                }
                done += loop.size();
                for (int i : loop) {
                    release(nodes, i, ready);
                }
                continue;
            }
            int i = ready.poll();
            Node n = nodes.get(i);
            n.waitsFor = -1;
            done++;
            order.add(n.group == null ? new Unit.Single(n.blocks.getFirst()) : new Unit.Grouped(n.group, level(n.blocks, n.group)));
            release(nodes, i, ready);
        }
        return order;
    }

    private static void release(List<Node> nodes, int from, PriorityQueue<Integer> ready) {
        for (int r : nodes.get(from).readers) {
            Node reader = nodes.get(r);
            if (reader.waitsFor > 0 && --reader.waitsFor == 0) {
                ready.add(r);
            }
        }
    }

    /** Blocks of this task on whose present outputs the block's own present outputs depend. */
    private List<FlatBlock> directSources(FlatBlock f) {
        List<FlatBlock> sources = new ArrayList<>();
        for (int i = 0; i < f.sources().size(); i++) {
            var s = f.source(i);
            if (s != null && f.face().inputs().get(i).direct() && task.contains(s.block())) {
                sources.add(s.block());
            }
        }
        return sources;
    }

    /** All nodes that depend on each other and on nothing else that is left, in sheet order. */
    private static List<Integer> sourceLoop(List<Node> nodes) {
        int at = 0;
        while (nodes.get(at).waitsFor <= 0) {
            at++;
        }
        while (true) {
            at = onLoop(nodes, at);
            Set<Integer> before = reached(nodes, at, false);
            Set<Integer> behind = reached(nodes, at, true);
            int start = at;
            var further = before.stream().filter(i -> i != start && !behind.contains(i)).findFirst();
            if (further.isEmpty()) {
                return before.stream().sorted().toList();
            }
            at = further.get();
        }
    }

    /** A node on a loop, found by walking against the signal. */
    private static int onLoop(List<Node> nodes, int start) {
        Set<Integer> seen = new HashSet<>();
        int at = start;
        while (seen.add(at)) {
            at = nodes.get(at).sources.stream().filter(s -> nodes.get(s).waitsFor > 0).findFirst().orElseThrow();
        }
        return at;
    }

    /** Every node left that the signal comes from, or goes to, by any way. */
    private static Set<Integer> reached(List<Node> nodes, int from, boolean forward) {
        Set<Integer> seen = new HashSet<>();
        Deque<Integer> waiting = new ArrayDeque<>(List.of(from));
        while (!waiting.isEmpty()) {
            Node n = nodes.get(waiting.poll());
            for (int s : forward ? n.readers : n.sources) {
                if (nodes.get(s).waitsFor > 0 && seen.add(s)) {
                    waiting.add(s);
                }
            }
        }
        return seen;
    }

    private static boolean solvable(List<Integer> loop, List<Node> nodes) {
        return loop.stream().allMatch(i -> nodes.get(i).group == null) && loop.stream().map(i -> nodes.get(i).blocks.getFirst())
                .anyMatch(f -> isReal(f));
    }

    private static boolean isReal(FlatBlock f) {
        for (int o = 0; o < f.face().outputs().size(); o++) {
            Type t = f.outputType(o);
            if (t == null || !t.isFloat()) {
                return false;
            }
        }
        return !f.face().outputs().isEmpty();
    }

    /** Assumes outputs of as few blocks as it finds quickly, until the others can be ordered. */
    private Unit.Loop tear(List<FlatBlock> loop) {
        List<FlatBlock> torn = new ArrayList<>();
        List<FlatBlock> order = new ArrayList<>();
        List<FlatBlock> left = new ArrayList<>(loop);
        Set<FlatBlock> known = Collections.newSetFromMap(new IdentityHashMap<>());
        while (!left.isEmpty()) {
            FlatBlock next = null;
            for (FlatBlock f : left) {
                if (directSources(f).stream().allMatch(s -> known.contains(s) || !loop.contains(s))) {
                    next = f;
                    break;
                }
            }
            if (next == null) {
                FlatBlock guess = left.stream().filter(f -> isReal(f) && !known.contains(f)).max(Comparator.comparingLong(f ->
                        left.stream().filter(r -> directSources(r).contains(f)).count())).orElseThrow();
                torn.add(guess);
                known.add(guess);
                continue;
            }
            order.add(next);
            known.add(next);
            left.remove(next);
        }
        String path = loop.stream().map(FlatBlock::path).collect(Collectors.joining(", "));
        findings.add(Finding.warning(Place.sheet(torn.getFirst().path()),
                "Algebraic loop, solved by Newton's method in every step of the solver: "
                + path + ".", "Insert a small lag into the loop if speed matters."));
        return new Unit.Loop(order, torn);
    }

    /** Names the loop as the path of its blocks. */
    private void report(List<Node> nodes, List<Integer> loop) {
        Deque<Integer> walk = new ArrayDeque<>();
        Set<Integer> seen = new HashSet<>();
        int at = loop.getFirst();
        while (seen.add(at)) {
            walk.push(at);
            at = nodes.get(at).sources.stream().filter(loop::contains).findFirst().orElseThrow();
        }
        // The walk went against the signal; popping it goes with the signal again, from and to the same block.
        List<Integer> circle = new ArrayList<>(List.of(at));
        while (walk.peek() != at) {
            circle.add(walk.pop());
        }
        circle.add(at);
        boolean grouped = circle.stream().anyMatch(i -> nodes.get(i).group != null);
        findings.add(Finding.error(Place.sheet(place(nodes.get(at))),
                "Algebraic loop: each of these blocks needs the result of the previous "
                + "one within the same step: " + circle.stream().map(i -> place(nodes.get(i))).collect(Collectors.joining(" → ")) + ".",
                "Insert a Unit delay or an integrator into the loop" + (grouped ? ", or let the subsystem run 'always', so that it is no "
                        + "longer computed as one." : ".")));
    }

    private static String place(Node n) {
        return n.group == null ? n.blocks.getFirst().path() : n.group.path();
    }
}
