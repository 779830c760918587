// What hangs on what: parameters and steps as a graph, and the graph as a drawing from left to right.
//
//   const auto graph = dependency_graph(document);
//   const auto drawn = lay_out(graph);            // boxes and routes, in units of the page
#pragma once

#include "model/document/document.h"

namespace kervo::model {

struct GraphNode {
    std::string text;
    int step = 0;          ///< id; 0: it is a parameter
    std::string parameter; ///< name; of parameters
    bool measured = false; ///< a parameter that a step measures
    bool suspended = false;
    bool frozen = false; ///< a step that hangs on no parameter, neither itself nor through others
};

struct DependencyGraph {
    std::vector<GraphNode> nodes;           ///< parameters in their order, measured ones, then steps in theirs
    std::vector<std::pair<int, int>> edges; ///< indices: the second hangs on the first; each once
    /// Indices of all nodes that the node hangs on, or that hang on it, through others too; itself left out.
    [[nodiscard]] std::vector<int> behind(int node) const { return reach(node, false); }
    [[nodiscard]] std::vector<int> ahead(int node) const { return reach(node, true); }
    /// Whether a step reads, itself or through others, what another one makes; both by id.
    [[nodiscard]] bool hangs_on(int step, int other) const;

private:
    [[nodiscard]] std::vector<int> reach(int node, bool forward) const;
};
DependencyGraph dependency_graph(const Document& document);

struct GraphLayout {
    std::vector<std::array<double, 4>> boxes;               ///< x, y, width, height, by node
    std::vector<std::vector<std::array<double, 2>>> routes; ///< by edge: from the right of a box to the left of another
    double width = 0, height = 0;
};
/// Layers by the longest way from what hangs on nothing; within a layer, nodes lie where their neighbours pull them.
/// Loops, as mistaken formulas make them, are opened at one place. Source: Sugiyama, Tagawa and Toda, Methods for
/// Visual Understanding of Hierarchical System Structures, 1981 (barycentres, up and down).
GraphLayout lay_out(const DependencyGraph& graph);

} // namespace kervo::model
