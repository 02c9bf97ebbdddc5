package boldanvil.core.link.opcua;

import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.uint;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.Reading;
import boldanvil.core.link.Tag;
import boldanvil.core.user.Log;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import org.eclipse.milo.opcua.sdk.client.OpcUaClient;
import org.eclipse.milo.opcua.sdk.client.OperationLimits;
import org.eclipse.milo.opcua.sdk.client.SessionActivityListener;
import org.eclipse.milo.opcua.sdk.client.UaSession;
import org.eclipse.milo.opcua.sdk.client.identity.AnonymousProvider;
import org.eclipse.milo.opcua.sdk.client.identity.UsernameProvider;
import org.eclipse.milo.opcua.sdk.client.subscriptions.OpcUaMonitoredItem;
import org.eclipse.milo.opcua.sdk.client.subscriptions.OpcUaSubscription;
import org.eclipse.milo.opcua.stack.core.StatusCodes;
import org.eclipse.milo.opcua.stack.core.UaException;
import org.eclipse.milo.opcua.stack.core.UaServiceFaultException;
import org.eclipse.milo.opcua.stack.core.security.CertificateValidator;
import org.eclipse.milo.opcua.stack.core.security.SecurityPolicy;
import org.eclipse.milo.opcua.stack.core.types.builtin.DataValue;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.NodeId;
import org.eclipse.milo.opcua.stack.core.types.builtin.StatusCode;
import org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.UInteger;
import org.eclipse.milo.opcua.stack.core.types.enumerated.TimestampsToReturn;
import org.eclipse.milo.opcua.stack.core.types.structured.EndpointDescription;
import org.eclipse.milo.opcua.stack.core.util.EndpointUtil;

/** A device on OPC UA. */
final class OpcUaLink implements DeviceLink {
    private static final long PATIENCE_SECONDS = 10;
    private static final int REQUEST_MILLIS = 4_000;
    private static final int KEEP_ALIVE_MILLIS = 500;
    /** Values in one request. */
    private static final int MOST_VALUES = 1_000;
    private static final long LISTEN_MILLIS = 100;
    private static final long SILENCE_NANOS = 1_500_000_000;
    /** How often all values are asked for after a loss, when the answer does not come. */
    private static final int REFRESHES = 5;

    private final Endpoint at;
    private final Place place;
    private final OpcUaClient client;
    private volatile Runnable onLost = () -> { };
    private volatile long heardAt = System.nanoTime();
    private volatile boolean silent;
    private volatile boolean closed;
    private volatile boolean connected = true;
    private volatile Subscribed subscribed;

    /** What is subscribed to, with the last reading of each tag. */
    private static final class Subscribed {
        final List<Tag> tags;
        final TagReceiver receiver;
        final Reading[] last;
        final Reading[] pending;
        boolean waiting;
        int losses;
        OpcUaSubscription subscription;

        Subscribed(List<Tag> tags, TagReceiver receiver) {
            this.tags = List.copyOf(tags);
            this.receiver = receiver;
            last = new Reading[tags.size()];
            pending = new Reading[tags.size()];
        }

        /**
         * What a notification brings. After a loss it waits, since it may have been queued before; then the newer of it and what is read
         * counts.
         */
        synchronized void give(int i, Reading r) {
            if (waiting) {
                pending[i] = r;
            } else if (last[i] == null || !isOlder(r, last[i])) {
                last[i] = r;
                receiver.reading(i, r);
            }
        }

        synchronized void stale(String why) {
            waiting = true;
            losses++;
            for (int i = 0; i < last.length; i++) {
                receiver.reading(i, last[i] == null ? Reading.bad(why) : last[i].stale(why));
            }
        }

        synchronized int losses() {
            return losses;
        }

        /**
         * Takes what was read of all tags when the link was back.
         *
         * @param before number of losses before it was read; after another one it says nothing
         */
        synchronized void refreshed(List<Reading> now, int before) {
            if (losses != before) {
                return;
            }
            for (int i = 0; i < last.length; i++) {
                last[i] = pending[i] != null && isOlder(now.get(i), pending[i]) ? pending[i] : now.get(i);
                pending[i] = null;
                receiver.reading(i, last[i]);
            }
            waiting = false;
        }

        /** By the clock of the device, where it states the time. */
        private static boolean isOlder(Reading r, Reading than) {
            return r.deviceNanos() != 0 && than.deviceNanos() != 0 && r.deviceNanos() < than.deviceNanos();
        }
    }

    private OpcUaLink(Endpoint at, Place place, OpcUaClient client) {
        this.at = at;
        this.place = place;
        this.client = client;
        client.addSessionActivityListener(new SessionActivityListener() {
            @Override
            public void onSessionActive(UaSession session) {
                connected = true;
                silent = false;
                heardAt = System.nanoTime();
                refresh();
            }

            @Override
            public void onSessionInactive(UaSession session) {
                broken();
            }
        });
        Thread.ofVirtual().start(this::listen);
    }

    static OpcUaLink connect(Endpoint at, Place place, Access access) {
        String url = "opc.tcp://" + at.host() + ":" + at.port();
        try {
            var client = OpcUaClient.create(url, all -> chosen(all, at, access), t -> t.setConnectTimeout(uint(REQUEST_MILLIS)), c -> {
                c.setApplicationName(LocalizedText.english("Bold Anvil")).setApplicationUri(OwnCertificate.URI)
                        .setRequestTimeout(uint(REQUEST_MILLIS)).setKeepAliveInterval(uint(KEEP_ALIVE_MILLIS))
                        .setKeepAliveTimeout(uint(KEEP_ALIVE_MILLIS)).setKeepAliveFailuresAllowed(uint(1))
                        .setIdentityProvider(access.user().isEmpty() ? new AnonymousProvider()
                                : new UsernameProvider(access.user(), access.password()));
                if (access.encrypted()) {
                    var own = OwnCertificate.get();
                    // Whoever opens a link has named the device; its certificate is shown, not asked about.
                    c.setKeyPair(own.keys()).setCertificate(own.certificate())
                            .setCertificateChain(new X509Certificate[] {own.certificate()})
                            .setCertificateValidator(new CertificateValidator.InsecureCertificateValidator());
                }
            });
            try {
                client.connectAsync().get(PATIENCE_SECONDS, TimeUnit.SECONDS);
                return new OpcUaLink(at, place, client);
            } catch (ExecutionException | TimeoutException e) {
                // Otherwise it would try again for ever.
                client.disconnectAsync();
                throw refused(at, place, e);
            }
        } catch (UaException e) {
            throw refused(at, place, e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw refused(at, place, e);
        }
    }

    private static java.util.Optional<EndpointDescription> chosen(List<EndpointDescription> all, Endpoint at, Access access) {
        String wanted = (access.encrypted() ? SecurityPolicy.Basic256Sha256 : SecurityPolicy.None).getUri();
        return all.stream().filter(e -> e.getSecurityPolicyUri().equals(wanted))
                .max(java.util.Comparator.comparing(e -> e.getSecurityMode().getValue()))
                .map(e -> EndpointUtil.updateUrl(e, at.host(), at.port()));
    }

    private static FindingException refused(Endpoint at, Place place, Exception e) {
        Log.ignored(OpcUaLink.class, e, "The device refused the connection.");
        long code = UaException.extractStatusCode(e).map(StatusCode::value).orElse(0L);
        if (code == StatusCodes.Bad_UserAccessDenied || code == StatusCodes.Bad_IdentityTokenRejected
                || code == StatusCodes.Bad_IdentityTokenInvalid) {
            return FindingException.of(place, "The device at " + at + " does not accept the user or the password.",
                    "Correct them in the settings of the link.");
        }
        if (code == StatusCodes.Bad_SecurityChecksFailed || code == StatusCodes.Bad_CertificateUntrusted
                || code == StatusCodes.Bad_CertificateTimeInvalid || code == StatusCodes.Bad_CertificateInvalid) {
            return FindingException.of(place, "The device at " + at + " does not trust the certificate of this application.",
                    "Add it to the trusted certificates of the device, and check its period of validity.");
        }
        if (code == StatusCodes.Bad_ConfigurationError) {
            return FindingException.of(place, "The device at " + at + " does not offer this kind of security.",
                    "Change the encryption in the settings of the link.");
        }
        return FindingException.of(place, "No OPC UA server answers at " + at + ".",
                "Check the address, the cable and whether the device is on.");
    }

    @Override
    public Set<Capability> capabilities() {
        return Set.of(Capability.TAGS, Capability.BROWSE);
    }

    @Override
    public void onLost(Runnable action) {
        onLost = action;
    }

    @Override
    public long silenceNanos() {
        return connected ? System.nanoTime() - heardAt : Math.max(System.nanoTime() - heardAt, TimeUnit.SECONDS.toNanos(1));
    }

    private void broken() {
        if (!connected) {
            return;
        }
        connected = false;
        Subscribed s = subscribed;
        if (s != null) {
            s.stale("The link is lost.");
        }
        onLost.run();
    }

    /** Detects a loss that the library has not reported: a subscription sends a message at least once a second. */
    private void listen() {
        try {
            while (!closed) {
                Thread.sleep(LISTEN_MILLIS);
                if (connected && System.nanoTime() - heardAt > SILENCE_NANOS) {
                    silent();
                }
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void silent() {
        Subscribed s = subscribed;
        if (s != null && !silent) {
            silent = true;
            s.stale("The device is silent.");
        }
    }

    private void heard() {
        heardAt = System.nanoTime();
        if (silent) {
            silent = false;
            refresh();
        }
    }

    /** After a new connection every tag gets the value it has now, changed or not. */
    private void refresh() {
        Subscribed s = subscribed;
        if (s == null) {
            return;
        }
        Thread.ofVirtual().start(() -> {
            for (int i = 0; i < REFRESHES && connected && subscribed == s; i++) {
                try {
                    int before = s.losses();
                    s.refreshed(readTags(s.tags), before);
                    return;
                } catch (FindingException e) {
                    Log.ignored(OpcUaLink.class, e, "The link was lost again.");
                }
            }
        });
    }

    private NodeId node(Tag t) {
        var id = NodeId.parseOrNull(t.address());
        if (id == null) {
            throw FindingException.of(Place.named(t.name()), "'" + t.address() + "' is not a node id.",
                    "Write such as ns=2;s=lock.level or ns=2;i=1001.");
        }
        return id;
    }

    private <T> T asked(java.util.concurrent.CompletableFuture<T> answer) {
        try {
            T value = answer.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
            heardAt = System.nanoTime();
            return value;
        } catch (ExecutionException | TimeoutException e) {
            Log.ignored(OpcUaLink.class, e, "The device did not answer.");
            if (UaException.extract(e).filter(x -> x instanceof UaServiceFaultException).isPresent()) {
                throw FindingException.of(place, "The device at " + at + " refuses the request: "
                        + UaException.extractStatusCode(e).map(OpcUaValues::name).orElse("") + ".",
                        "Ask for less at once, or check the user's rights.");
            }
            throw FindingException.of(place, "The device at " + at + " does not answer.",
                    "Check the cable and whether the device is on; the link comes back by itself.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw FindingException.of(place, "The request was cancelled.", "Try again.");
        }
    }

    /** How many nodes a request may name: what the device states, but not more than is usual here. */
    private int atOnce(Function<OperationLimits, java.util.Optional<UInteger>> limit, int usual) {
        try {
            return limit.apply(client.getOperationLimits()).map(UInteger::intValue).filter(n -> n > 0).map(n -> Math.min(n, usual))
                    .orElse(usual);
        } catch (UaException e) {
            Log.ignored(OpcUaLink.class, e, "The device does not state its limits.");
            return usual;
        }
    }

    @Override
    public List<Reading> readTags(List<Tag> tags) {
        List<Reading> all = new ArrayList<>(tags.size());
        int most = atOnce(OperationLimits::maxNodesPerRead, MOST_VALUES);
        for (int from = 0; from < tags.size(); from += most) {
            var some = tags.subList(from, Math.min(tags.size(), from + most));
            var values = asked(client.readValuesAsync(0, TimestampsToReturn.Both, some.stream().map(this::node).toList()));
            for (int i = 0; i < some.size(); i++) {
                all.add(OpcUaValues.reading(some.get(i).type(), values.get(i)));
            }
        }
        return all;
    }

    @Override
    public void writeTags(Map<Tag, Object> values) {
        List<Tag> tags = new ArrayList<>(values.keySet());
        int most = atOnce(OperationLimits::maxNodesPerWrite, MOST_VALUES);
        for (int from = 0; from < tags.size(); from += most) {
            var some = tags.subList(from, Math.min(tags.size(), from + most));
            List<DataValue> written = new ArrayList<>();
            for (Tag t : some) {
                try {
                    written.add(DataValue.valueOnly(OpcUaValues.variant(OpcUaValues.encode(t.type(), values.get(t)))));
                } catch (IllegalArgumentException e) {
                    throw FindingException.of(Place.named(t.name()), "The value cannot be written: " + e.getMessage() + ".",
                            "Write a value of its type.");
                }
            }
            List<StatusCode> answers = asked(client.writeValuesAsync(some.stream().map(this::node).toList(), written));
            for (int i = 0; i < some.size(); i++) {
                if (answers.get(i).isBad()) {
                    throw FindingException.of(Place.named(some.get(i).name()), "The device refuses the value: "
                            + OpcUaValues.name(answers.get(i)) + ".",
                            "Check the user's rights, and whether the tag may be written.");
                }
            }
        }
    }

    @Override
    public void subscribeTags(List<Tag> tags, List<Long> periodsNanos, TagReceiver receiver) {
        var s = new Subscribed(tags, receiver);
        end(subscribed);
        try {
            var subscription = new OpcUaSubscription(client, periodsNanos.stream().mapToLong(p -> p).min().orElse(1_000_000_000L) / 1e6);
            subscription.setTargetKeepAliveInterval(1_000);
            s.subscription = subscription;
            Map<OpcUaMonitoredItem, Integer> indices = new java.util.IdentityHashMap<>();
            List<OpcUaMonitoredItem> items = new ArrayList<>();
            for (int i = 0; i < s.tags.size(); i++) {
                var item = OpcUaMonitoredItem.newDataItem(node(s.tags.get(i)));
                item.setSamplingInterval(periodsNanos.get(i) / 1e6);
                item.setQueueSize(uint(1));
                indices.put(item, i);
                items.add(item);
            }
            subscription.setSubscriptionListener(new Listener(s, indices));
            subscription.create();
            subscription.addMonitoredItems(items);
            heardAt = System.nanoTime();
            subscribed = s;
            var results = subscription.createMonitoredItems();
            results.forEach(r -> {
                if (!r.isGood()) {
                    s.give(indices.get(r.monitoredItem()), Reading.bad("The device answers: "
                            + OpcUaValues.name(r.operationResult().orElse(r.serviceResult())) + "."));
                }
            });
        } catch (UaException e) {
            Log.ignored(OpcUaLink.class, e, "The subscription was refused.");
            throw FindingException.of(place, "The device does not accept the subscription: " + OpcUaValues.name(e.getStatusCode()) + ".",
                    "Subscribe to fewer tags, or less often.");
        }
    }

    /** Takes what a subscription brings. */
    private final class Listener implements OpcUaSubscription.SubscriptionListener {
        private final Subscribed to;
        private final Map<OpcUaMonitoredItem, Integer> indices;

        Listener(Subscribed to, Map<OpcUaMonitoredItem, Integer> indices) {
            this.to = to;
            this.indices = indices;
        }

        @Override
        public void onDataReceived(OpcUaSubscription s, List<OpcUaMonitoredItem> items, List<DataValue> values) {
            heard();
            for (int i = 0; i < items.size(); i++) {
                int tag = indices.get(items.get(i));
                to.give(tag, OpcUaValues.reading(to.tags.get(tag).type(), values.get(i)));
            }
        }

        @Override
        public void onKeepAliveReceived(OpcUaSubscription s) {
            heard();
        }

        @Override
        public void onWatchdogTimerElapsed(OpcUaSubscription s) {
            silent();
        }

        @Override
        public void onTransferFailed(OpcUaSubscription s, StatusCode status) {
            if (subscribed == to) {
                Thread.ofVirtual().start(() -> {
                    try {
                        s.reset();
                        s.create();
                        s.createMonitoredItems();
                        refresh();
                    } catch (UaException e) {
                        Log.ignored(OpcUaLink.class, e, "The subscription is not back yet.");
                    }
                });
            }
        }
    }

    private static void end(Subscribed s) {
        if (s != null && s.subscription != null) {
            try {
                s.subscription.delete();
            } catch (UaException e) {
                Log.ignored(OpcUaLink.class, e, "The subscription cannot be ended.");
            }
        }
    }

    @Override
    public List<Tag> browse(BooleanSupplier cancelled) {
        return new OpcUaBrowser(client, this::asked, atOnce(OperationLimits::maxNodesPerBrowse, MOST_VALUES),
                atOnce(OperationLimits::maxNodesPerRead, MOST_VALUES)).browse(cancelled);
    }

    @Override
    public void close() {
        closed = true;
        onLost = () -> { };
        subscribed = null;
        try {
            client.disconnectAsync().get(2, TimeUnit.SECONDS);
        } catch (ExecutionException | TimeoutException e) {
            Log.ignored(OpcUaLink.class, e, "The connection cannot be closed in order.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
