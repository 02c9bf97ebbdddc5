package boldanvil.standin.plc;

import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelPipeline;
import io.netty.util.ReferenceCountUtil;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** The connections of a server: none while the cable is out, and no more than there may be. */
final class CableGate {
    /** The connections a server of the PLC has at most. */
    static final int MOST_CONNECTIONS = 32;

    private final PlcDevice device;
    private final Set<ChannelHandlerContext> connections = ConcurrentHashMap.newKeySet();

    CableGate(PlcDevice device) {
        this.device = device;
    }

    /** Watches a new connection. */
    void watch(ChannelPipeline pipeline) {
        pipeline.addFirst(new Watch());
    }

    /** Ends all connections, as a pulled cable would. */
    void cut() {
        connections.forEach(ChannelHandlerContext::close);
    }

    private boolean isCableOut() {
        return device.fault() == PlcFault.CABLE_OUT;
    }

    private final class Watch extends ChannelInboundHandlerAdapter {
        @Override
        public void channelActive(ChannelHandlerContext context) throws Exception {
            if (isCableOut() || connections.size() >= MOST_CONNECTIONS) {
                context.close();
                return;
            }
            connections.add(context);
            super.channelActive(context);
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) throws Exception {
            connections.remove(context);
            super.channelInactive(context);
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) throws Exception {
            if (isCableOut()) {
                ReferenceCountUtil.release(message);
                context.close();
                return;
            }
            super.channelRead(context, message);
        }
    }
}
