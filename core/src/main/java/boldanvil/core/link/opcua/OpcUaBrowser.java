package boldanvil.core.link.opcua;

import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.uint;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.function.BiConsumer;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import org.eclipse.milo.opcua.sdk.client.OpcUaClient;
import org.eclipse.milo.opcua.stack.core.AttributeId;
import org.eclipse.milo.opcua.stack.core.NodeIds;
import org.eclipse.milo.opcua.stack.core.types.builtin.ByteString;
import org.eclipse.milo.opcua.stack.core.types.builtin.DataValue;
import org.eclipse.milo.opcua.stack.core.types.builtin.DateTime;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.NodeId;
import org.eclipse.milo.opcua.stack.core.types.builtin.QualifiedName;
import org.eclipse.milo.opcua.stack.core.types.enumerated.BrowseDirection;
import org.eclipse.milo.opcua.stack.core.types.enumerated.BrowseResultMask;
import org.eclipse.milo.opcua.stack.core.types.enumerated.NodeClass;
import org.eclipse.milo.opcua.stack.core.types.enumerated.TimestampsToReturn;
import org.eclipse.milo.opcua.stack.core.types.structured.BrowseDescription;
import org.eclipse.milo.opcua.stack.core.types.structured.BrowseResult;
import org.eclipse.milo.opcua.stack.core.types.structured.ReadValueId;
import org.eclipse.milo.opcua.stack.core.types.structured.ReferenceDescription;
import org.eclipse.milo.opcua.stack.core.types.structured.ViewDescription;

/** Finds the variables below the objects of a server, level by level, many nodes in one request. */
final class OpcUaBrowser {
    /** A node may have more children than fit into a message. */
    private static final int CHILDREN_AT_ONCE = 2_000;
    private static final int DEEPEST = 32;
    private static final int REQUESTS_AHEAD = 4;
    private static final ViewDescription EVERYTHING = new ViewDescription(NodeId.NULL_VALUE, DateTime.MIN_VALUE, uint(0));

    /** Waits for an answer. */
    interface Asking {
        <T> T asked(CompletableFuture<T> answer);
    }

    /** A node whose children are asked for. */
    private record Node(NodeId id, String path) {}

    /** A variable found. */
    private record Found(NodeId id, String path) {}

    private final OpcUaClient client;
    private final Asking asking;
    private final int nodesAtOnce;
    private final int readsAtOnce;
    private final Set<NodeId> seen = new HashSet<>();
    private final List<Found> found = new ArrayList<>();

    /**
     * @param nodesAtOnce how many nodes the device lets be browsed in a request
     * @param readsAtOnce how many attributes it lets be read in a request
     */
    OpcUaBrowser(OpcUaClient client, Asking asking, int nodesAtOnce, int readsAtOnce) {
        this.client = client;
        this.asking = asking;
        this.nodesAtOnce = nodesAtOnce;
        this.readsAtOnce = readsAtOnce;
    }

    List<Tag> browse(BooleanSupplier cancelled) {
        List<Node> level = List.of(new Node(NodeIds.ObjectsFolder, ""));
        seen.add(NodeIds.Server);
        for (int depth = 0; depth < DEEPEST && !level.isEmpty(); depth++) {
            List<Node> next = new ArrayList<>();
            inTurn(level, nodesAtOnce, cancelled, some -> client.browseAsync(EVERYTHING, uint(CHILDREN_AT_ONCE), some.stream()
                    .map(OpcUaBrowser::children).toList()), (some, answer) -> children(some, answer.getResults(), next));
            level = next;
        }
        return tags(cancelled);
    }

    private static void stopIf(BooleanSupplier cancelled) {
        if (cancelled.getAsBoolean()) {
            throw FindingException.of(Place.named("browse"), "Browsing was cancelled.", "Browse again.");
        }
    }

    /** Asks about many things, a few requests ahead of the answers. */
    private <T, A> void inTurn(List<T> all, int atOnce, BooleanSupplier cancelled, Function<List<T>, CompletableFuture<A>> ask,
            BiConsumer<List<T>, A> take) {
        record Asked<T, A>(List<T> about, CompletableFuture<A> answer) {}
        Deque<Asked<T, A>> ahead = new ArrayDeque<>();
        for (int from = 0; from < all.size() || !ahead.isEmpty();) {
            stopIf(cancelled);
            while (from < all.size() && ahead.size() < REQUESTS_AHEAD) {
                var some = all.subList(from, Math.min(all.size(), from + atOnce));
                ahead.add(new Asked<>(some, ask.apply(some)));
                from += some.size();
            }
            var first = ahead.remove();
            take.accept(first.about(), asking.asked(first.answer()));
        }
    }

    private static BrowseDescription children(Node of) {
        return new BrowseDescription(of.id(), BrowseDirection.Forward, NodeIds.HierarchicalReferences, true,
                uint(NodeClass.Object.getValue() | NodeClass.Variable.getValue()), uint(BrowseResultMask.All.getValue()));
    }

    private void children(List<Node> parents, BrowseResult[] results, List<Node> next) {
        for (int i = 0; i < parents.size(); i++) {
            take(parents.get(i), results[i].getReferences(), next);
            ByteString more = results[i].getContinuationPoint();
            while (more != null && more.isNotNull()) {
                var answer = asking.asked(client.browseNextAsync(false, List.of(more))).getResults()[0];
                take(parents.get(i), answer.getReferences(), next);
                more = answer.getContinuationPoint();
            }
        }
    }

    private void take(Node parent, ReferenceDescription[] references, List<Node> next) {
        if (references == null) {
            return;
        }
        for (ReferenceDescription r : references) {
            Optional<NodeId> id = r.getNodeId().toNodeId(client.getNamespaceTable());
            if (id.isEmpty() || found.size() >= DeviceLink.MOST_TAGS || !seen.add(id.get())) {
                continue;
            }
            String name = Optional.ofNullable(r.getBrowseName()).map(QualifiedName::name).orElse(id.get().getIdentifier().toString());
            String path = parent.path().isEmpty() ? name : parent.path() + "." + name;
            if (r.getNodeClass() == NodeClass.Variable) {
                found.add(new Found(id.get(), path));
            }
            next.add(new Node(id.get(), path));
        }
    }

    /** Types, rights and descriptions of what was found; variables that no tag can hold are left out. */
    private List<Tag> tags(BooleanSupplier cancelled) {
        List<Tag> tags = new ArrayList<>();
        inTurn(found, Math.max(1, readsAtOnce / 3), cancelled, some -> {
            List<ReadValueId> wanted = new ArrayList<>();
            some.forEach(f -> List.of(AttributeId.DataType, AttributeId.UserAccessLevel, AttributeId.Description)
                    .forEach(a -> wanted.add(new ReadValueId(f.id(), a.uid(), null, QualifiedName.NULL_VALUE))));
            return client.readAsync(0, TimestampsToReturn.Neither, wanted);
        }, (some, answer) -> {
            DataValue[] values = answer.getResults();
            for (int i = 0; i < some.size(); i++) {
                tag(some.get(i), values[3 * i], values[3 * i + 1], values[3 * i + 2]).ifPresent(tags::add);
            }
        });
        return tags;
    }

    private static Optional<Tag> tag(Found f, DataValue dataType, DataValue level, DataValue description) {
        if (dataType.value() == null || !(dataType.value().value() instanceof NodeId id)) {
            return Optional.empty();
        }
        Optional<TagType> type = OpcUaValues.type(id);
        boolean writable = level.value() != null && level.value().value() instanceof Number n && (n.intValue() & 2) != 0;
        String comment = description.value() != null && description.value().value() instanceof LocalizedText t && t.text() != null
                ? t.text() : "";
        return type.map(t -> new Tag(f.path(), f.id().toParseableString(), t, writable, comment));
    }
}
