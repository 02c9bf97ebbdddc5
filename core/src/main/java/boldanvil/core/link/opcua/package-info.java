/** OPC UA, the client side: nodes as tags; browsing, reading, writing, subscribing, and this user's own certificate. */
package boldanvil.core.link.opcua;
