package boldanvil.core.farm;

import boldanvil.core.finding.FindingException;
import boldanvil.core.study.InOrder;
import boldanvil.core.study.StudyListener;
import java.io.Serializable;
import java.util.ArrayDeque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.apache.ignite.Ignite;
import org.apache.ignite.IgniteClientDisconnectedException;
import org.apache.ignite.IgniteException;
import org.apache.ignite.Ignition;
import org.apache.ignite.cluster.ClusterNode;
import org.apache.ignite.lang.IgniteCallable;
import org.apache.ignite.lang.IgniteFuture;

/**
 * Has workers do the runs of a study. Workers may join and leave meanwhile: runs of a worker that is lost go to others, and each result is
 * counted once.
 */
public final class Farm implements AutoCloseable {
    /** Runs that wait at a worker beside those it does, so that it need not wait for messages. */
    private static final int AHEAD = 2;
    /** Results that may wait for an earlier one, so that memory stays bounded. */
    private static final int MOST_EARLY = 10_000;

    private final FarmKey key;
    private final String listen;
    /** Where workers are or have been. */
    private final Set<String> addresses;
    private Ignite ignite;

    private Farm(FarmKey key, String listen, List<String> workers) {
        this.key = key;
        this.listen = listen;
        addresses = new LinkedHashSet<>(workers);
        ignite = node();
    }

    /**
     * Joins workers.
     *
     * @param listen address of this machine on which they reach it
     * @param workers some of them, as {@code host:port}; the others come with them
     * @throws FindingException when none answers, or they have another key
     */
    public static Farm join(FarmKey key, String listen, List<String> workers) {
        return new Farm(key, listen, workers);
    }

    private Ignite node() {
        return Node.start(key, listen, 0, List.copyOf(addresses), Map.of(Node.NAME, "study"));
    }

    /** Names of the workers that are there, with the number of runs each does at the same time. */
    public Map<String, Integer> workers() {
        Map<String, Integer> all = new LinkedHashMap<>();
        nodes().values().forEach(n -> all.put(name(n), slots(n)));
        return all;
    }

    /**
     * Runs all points.
     *
     * @param patience seconds to wait when no worker is left
     * @param type what comes of a run
     * @param sink gets the results in the order of the points, each once; fewer when the study was cancelled
     * @throws FindingException when a run cannot be done at all, or no worker came back in time
     */
    public <T extends Serializable> void each(Work work, List<Map<String, Double>> points, double patience, StudyListener listener,
            Class<T> type, Consumer<? super T> sink) {
        new Study<>(work, points, patience, listener, type, sink).run();
    }

    private Map<UUID, ClusterNode> nodes() {
        Map<UUID, ClusterNode> all = new LinkedHashMap<>();
        try {
            for (ClusterNode n : ignite.cluster().forServers().nodes()) {
                if (n.attribute(Node.SLOTS) instanceof Integer) {
                    all.put(n.id(), n);
                    // One that joined later may be the only one that is left.
                    if (addresses.add(name(n))) {
                        Node.addAddress(ignite, name(n));
                    }
                }
            }
            return all;
        } catch (IgniteClientDisconnectedException e) {
            // The worker that was asked has gone; the engine connects to another one by itself, if there is one.
            return Map.of();
        } catch (IgniteException | IllegalStateException e) {
            return again() ? nodes() : Map.of();
        }
    }

    /** Joins anew when the engine has given up, because no worker was left. */
    private boolean again() {
        try {
            ignite = node();
            return true;
        } catch (FindingException e) {
            return false;
        }
    }

    private static int slots(ClusterNode n) {
        return n.<Integer>attribute(Node.SLOTS);
    }

    private static String name(ClusterNode n) {
        return n.attribute(Node.NAME);
    }

    @Override
    public void close() {
        Ignition.stop(ignite.name(), true);
    }

    /** One study. All its state belongs to the thread that runs it; answers come in by a queue. */
    private final class Study<T extends Serializable> {
        private static final int OPENING = -1;

        /**
         * What came back.
         *
         * @param run index of its point; {@link #OPENING} for the work itself
         * @param bytes null when the worker was lost
         */
        private record Reply(UUID node, int run, byte[] bytes) {}

        private final Work work;
        private final String hash;
        private final byte[] packed;
        private final List<Map<String, Double>> points;
        private final double patience;
        private final StudyListener listener;
        private final Class<T> type;
        private final InOrder<T> order;
        private final BlockingQueue<Reply> replies = new LinkedBlockingQueue<>();
        private final ArrayDeque<Integer> again = new ArrayDeque<>();
        private final Map<UUID, String> known = new HashMap<>();
        private final Set<UUID> ready = new HashSet<>();
        private final Map<UUID, Set<Integer>> underWay = new HashMap<>();
        private int next;

        Study(Work work, List<Map<String, Double>> points, double patience, StudyListener listener, Class<T> type,
                Consumer<? super T> sink) {
            this.work = work;
            hash = work.hash();
            packed = Parcel.pack(work);
            this.points = points;
            this.patience = patience;
            this.listener = listener;
            this.type = type;
            order = new InOrder<>(sink);
        }

        void run() {
            long alone = System.nanoTime();
            while (order.size() < points.size() && !(listener.cancelled() && isIdle())) {
                Map<UUID, ClusterNode> there = nodes();
                notice(there);
                if (!there.isEmpty()) {
                    alone = System.nanoTime();
                } else if (System.nanoTime() - alone > patience * 1e9) {
                    throw FindingException.of("workers", "No worker is left; " + order.size() + " of " + points.size() + " runs are done.",
                            "Start workers again, and run the study again.");
                }
                there.values().forEach(this::feed);
                take();
            }
        }

        private boolean isIdle() {
            return underWay.values().stream().allMatch(Set::isEmpty);
        }

        private void notice(Map<UUID, ClusterNode> there) {
            there.forEach((id, n) -> {
                if (known.putIfAbsent(id, name(n)) == null) {
                    underWay.put(id, new HashSet<>());
                    listener.note("Worker " + name(n) + " works with " + slots(n) + " runs at a time.");
                    send(n, OPENING, new OpenJob(hash, packed));
                }
            });
            for (UUID id : List.copyOf(known.keySet())) {
                if (!there.containsKey(id)) {
                    lost(id);
                }
            }
        }

        /** What a lost worker had is done again by others. */
        private void lost(UUID id) {
            Set<Integer> had = underWay.remove(id);
            ready.remove(id);
            String name = known.remove(id);
            if (name != null) {
                had.remove(OPENING);
                again.addAll(had.stream().sorted().toList());
                listener.note("Worker " + name + " is lost; others do its " + had.size() + " runs.");
            }
        }

        private void feed(ClusterNode n) {
            Set<Integer> has = underWay.get(n.id());
            while (has != null && ready.contains(n.id()) && has.size() < slots(n) * AHEAD && !listener.cancelled()) {
                Integer run = again.poll();
                if (run == null) {
                    if (next >= points.size() || next >= order.handedOn() + MOST_EARLY) {
                        return;
                    }
                    run = next++;
                }
                send(n, run, new RunJob(hash, points.get(run)));
            }
        }

        private void send(ClusterNode n, int run, IgniteCallable<byte[]> job) {
            UUID id = n.id();
            underWay.get(id).add(run);
            try {
                ignite.compute(ignite.cluster().forNode(n)).withNoFailover().callAsync(job).listen(f -> replies.add(reply(id, run, f)));
            } catch (IgniteException | IllegalStateException e) {
                replies.add(new Reply(id, run, null));
            }
        }

        private Reply reply(UUID id, int run, IgniteFuture<byte[]> f) {
            try {
                return new Reply(id, run, f.get());
            } catch (IgniteException e) {
                return new Reply(id, run, null);
            }
        }

        private void take() {
            try {
                Reply r = replies.poll(100, TimeUnit.MILLISECONDS);
                while (r != null) {
                    take(r);
                    r = replies.poll();
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw FindingException.of("workers", "The study was interrupted.", "Run it again.");
            }
        }

        private void take(Reply r) {
            Set<Integer> has = underWay.get(r.node());
            // Of a worker that was lost before, everything has gone to others already.
            boolean expected = has != null && has.remove(r.run());
            if (r.bytes() == null) {
                if (expected && r.run() != OPENING) {
                    again.add(r.run());
                }
                return;
            }
            if (!(Parcel.unpack(r.bytes()) instanceof Answer a) || !a.work().equals(hash)) {
                throw FindingException.of("worker " + known.get(r.node()), "It answers for another study.",
                        "Start it with the same build.");
            }
            if (!a.findings().isEmpty()) {
                throw new FindingException(a.findings());
            }
            if (r.run() == OPENING) {
                ready.add(r.node());
            } else if (order.put(r.run(), type.cast(a.outcome()))) {
                listener.done(order.size(), points.size());
            }
        }
    }
}
