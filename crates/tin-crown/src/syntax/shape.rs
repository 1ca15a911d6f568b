//! What is declared of values and keys, for the schema and the reference.

use crate::limits::Range;

/// What a value may be.
#[derive(Clone, Debug)]
pub(crate) enum Shape {
    /// A text, and what it names.
    Text(&'static str),
    /// A number.
    Number(Option<&'static Range>),
    /// A whole number that is not negative.
    Whole(Option<&'static Range>),
    /// A number of whole thousandths that is not negative.
    Amount,
    /// A share of a meter's `max`.
    Percent,
    /// True or false.
    Flag,
    /// A length of time.
    Duration,
    /// One of a few words.
    Words(Vec<Word>),
    /// Two of the same.
    Pair(Box<Shape>),
    /// Three of the same.
    Triple(Box<Shape>),
    /// So many of the same at the most.
    List(Box<Shape>, usize),
    /// Any number of the same, by name.
    Map(Box<Shape>),
    /// A table.
    Table(TableShape),
    /// Any of these.
    Any(Vec<Shape>),
}

/// A word that a value may be.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Word {
    pub word: &'static str,
    /// What it means.
    pub about: &'static str,
}

/// What is declared of a table.
#[derive(Clone, Debug)]
pub(crate) struct TableShape {
    /// The type it is read into.
    pub name: &'static str,
    /// What it is.
    pub about: &'static str,
    /// Its keys, in the order in which they are written.
    pub keys: Vec<Key>,
    /// Which of them depend on each other.
    pub together: Vec<Together>,
}

/// What is declared of a key.
#[derive(Clone, Debug)]
pub(crate) struct Key {
    pub name: &'static str,
    /// Its one sentence.
    pub about: &'static str,
    /// Whether the table is wrong without it.
    pub required: bool,
    /// Whether it is required once everything is laid over.
    pub due: bool,
    /// What holds without it, as written in a file.
    pub default: Option<&'static str>,
    /// What holds without it, in words.
    pub absent: Option<&'static str>,
    pub shape: Shape,
}

/// How some keys of a table depend on each other.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Together {
    /// Exactly one of them.
    OneOf(&'static [&'static str]),
    /// At least one of them.
    SomeOf(&'static [&'static str]),
    /// Not two of them.
    AtMostOne(&'static [&'static str]),
}

impl Shape {
    /// The same with every number within `range`.
    pub fn within(self, range: &'static Range) -> Shape {
        self.map(&|shape| match shape {
            Shape::Number(_) => Shape::Number(Some(range)),
            Shape::Whole(_) => Shape::Whole(Some(range)),
            other => other,
        })
    }

    /// The same with every number an amount.
    pub fn amount(self) -> Shape {
        self.map(&|shape| match shape {
            Shape::Number(_) => Shape::Amount,
            other => other,
        })
    }

    /// The same with every text naming something.
    pub fn naming(self, what: &'static str) -> Shape {
        self.map(&|shape| match shape {
            Shape::Text(_) => Shape::Text(what),
            other => other,
        })
    }

    /// The same with every value that is no table of declared keys changed. Of a choice's tables the
    /// values belong to the choice.
    fn map(self, change: &dyn Fn(Shape) -> Shape) -> Shape {
        let boxed = |shape: Box<Shape>| Box::new(shape.map(change));
        match self {
            Shape::Pair(one) => Shape::Pair(boxed(one)),
            Shape::Triple(one) => Shape::Triple(boxed(one)),
            Shape::List(one, most) => Shape::List(boxed(one), most),
            Shape::Map(one) => Shape::Map(boxed(one)),
            Shape::Any(all) => {
                let changed = all.into_iter().map(|shape| match shape {
                    Shape::Table(mut table) if table.is_choice() => {
                        for key in &mut table.keys {
                            key.shape = key.shape.clone().map(change);
                        }
                        Shape::Table(table)
                    }
                    other => other.map(change),
                });
                Shape::Any(changed.collect())
            }
            other => change(other),
        }
    }
}

impl TableShape {
    /// Whether it has exactly one of its keys.
    pub fn is_choice(&self) -> bool {
        matches!(self.together[..], [Together::OneOf(keys)] if keys.len() == self.keys.len())
    }
}
