"""Where the key is: one module for each way of showing it.

    values     what a key says: letters, words, numbers with tolerances, orders, pairs
    emphasis   bold, underlined, highlighted, coloured or shaded choices, where most questions have one
    marks      a sign or a word behind the right choice that is known nowhere
    brackets   a letter in brackets behind the stem
    lists      a list at the end, or behind a part of the test
    beside     a document that holds nothing but keys

Known signs before and behind a choice are told by `labels` and `question`, answer lines by `fields`, letters on blanks by
`labels`, shares in per cent by `making.choices`.
"""
