"""The pools of a bank as a tree, with their items in order: what writers of nested sections need."""

from __future__ import annotations

from dataclasses import dataclass, field

from rogatum.core.items import Bank, Item


@dataclass
class PoolNode:
    items: list[Item] = field(default_factory=list)
    children: dict[str, PoolNode] = field(default_factory=dict)

    def node(self, path: tuple[str, ...]) -> PoolNode:
        """The node at a path, made where it is missing."""
        found = self
        for name in path:
            found = found.children.setdefault(name, PoolNode())
        return found

    def single_root(self) -> tuple[str, PoolNode] | None:
        """The one pool at the top, where everything lies below one."""
        if len(self.children) == 1 and not self.items:
            return next(iter(self.children.items()))
        return None


def pool_tree(bank: Bank) -> PoolNode:
    """The tree of all pools; items in no pool lie at the root."""
    tree, paths = PoolNode(), bank.pool_paths()
    for pool in bank.pools:
        tree.node(tuple(pool.path))
    for item in bank.items:
        tree.node(paths.get(item.id, ())).items.append(item)
    return tree
