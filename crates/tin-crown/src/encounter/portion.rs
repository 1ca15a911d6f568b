//! How much of a meter: an amount, or a share of the most it holds.

use crate::finding::Code;
use crate::syntax::{At, Shape, Syntax};
use crate::text::Value;

/// How much of a meter: `2`, or `"50%"` of its `max`.
///
/// ```
/// use tin_crown::encounter::Portion;
///
/// assert_eq!(Portion::from(2.0), Portion::Amount(2.0));
/// assert_eq!("12.5%".parse(), Ok(Portion::Percent(12.5)));
/// assert!("12.5".parse::<Portion>().is_err());
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Portion {
    /// So much.
    Amount(f64),
    /// So many hundredths of its `max`, rounded half up to thousandths.
    Percent(f64),
}

/// A text is not a percentage.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a percentage goes from 0 to 100, such as \"50%\"")]
pub struct PortionError;

impl From<f64> for Portion {
    fn from(amount: f64) -> Portion {
        Portion::Amount(amount)
    }
}

impl std::str::FromStr for Portion {
    type Err = PortionError;

    fn from_str(text: &str) -> Result<Portion, PortionError> {
        let number = text.strip_suffix('%').ok_or(PortionError)?;
        let digits = |c: char| c.is_ascii_digit() || c == '.';
        match number.parse::<f64>() {
            Ok(percent) if percent <= 100.0 && number.chars().all(digits) => {
                Ok(Portion::Percent(percent))
            }
            _ => Err(PortionError),
        }
    }
}

impl Syntax for Portion {
    fn read(at: At<'_>) -> Option<Portion> {
        match at.text() {
            None if at.is_table() => {
                let message = "expected a number or a percentage, found a table";
                let help = "`at_least` and `at_most` stand by themselves: at_least = 2";
                at.refuse(Code::WrongType, message.to_owned(), help.to_owned())
            }
            None => f64::read(at).map(Portion::Amount),
            Some(text) => match text.parse() {
                Ok(portion) => Some(portion),
                Err(error) => {
                    let message = format!("`{text}` is not an amount of a meter");
                    let help = format!("write a number, or a share of its `max`: {error}");
                    at.refuse(Code::OutOfRange, message, help)
                }
            },
        }
    }

    fn write(&self) -> Value {
        match self {
            Portion::Amount(amount) => amount.write(),
            Portion::Percent(percent) => Value::Text(format!("{percent}%")),
        }
    }

    fn shape() -> Shape {
        Shape::Any(vec![Shape::Amount, Shape::Percent])
    }
}
