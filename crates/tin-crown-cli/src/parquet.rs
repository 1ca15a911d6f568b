//! Rows of a sweep as Apache Parquet.

#[cfg(not(feature = "parquet"))]
pub use absent::Parquet;
#[cfg(feature = "parquet")]
pub use present::Parquet;

#[cfg(feature = "parquet")]
mod present {
    use std::io::Write;
    use std::sync::Arc;

    use parquet::basic::{Compression, LogicalType, Repetition, Type as Physical};
    use parquet::data_type::{ByteArray, ByteArrayType, DoubleType, Int64Type};
    use parquet::errors::ParquetError;
    use parquet::file::properties::WriterProperties;
    use parquet::file::writer::SerializedFileWriter;
    use parquet::schema::types::Type;
    use tin_crown::study::{Column, Datum, Holds, Row};

    use crate::failure::Failure;

    /// How many rows are in memory at once.
    const GROUP: usize = 16 * 1024;

    /// Rows on their way into a file, a group at a time.
    pub struct Parquet<'w> {
        out: &'w mut dyn Write,
        writer: SerializedFileWriter<Vec<u8>>,
        columns: Vec<Column>,
        rows: Vec<Row>,
    }

    impl From<ParquetError> for Failure {
        fn from(error: ParquetError) -> Failure {
            Failure::new(format!("cannot write Parquet: {error}"))
        }
    }

    impl<'w> Parquet<'w> {
        /// Whether this build writes it.
        pub fn check() -> Result<(), Failure> {
            Ok(())
        }

        pub fn new(out: &'w mut dyn Write, columns: &[Column]) -> Result<Parquet<'w>, Failure> {
            let fields: Result<Vec<Arc<Type>>, ParquetError> = columns
                .iter()
                .map(|column| Ok(Arc::new(field(column)?)))
                .collect();
            let schema = Type::group_type_builder("sweep")
                .with_fields(fields?)
                .build()?;
            let properties = WriterProperties::builder()
                .set_compression(Compression::SNAPPY)
                .set_created_by(concat!("tin-crown ", env!("CARGO_PKG_VERSION")).to_owned())
                .build();
            Ok(Parquet {
                out,
                writer: SerializedFileWriter::new(
                    Vec::new(),
                    Arc::new(schema),
                    Arc::new(properties),
                )?,
                columns: columns.to_vec(),
                rows: Vec::new(),
            })
        }

        pub fn add(&mut self, row: &Row) -> Result<(), Failure> {
            self.rows.push(row.clone());
            if self.rows.len() == GROUP {
                self.group()?;
            }
            Ok(())
        }

        /// Writes the rows that are in memory.
        fn group(&mut self) -> Result<(), Failure> {
            let mut group = self.writer.next_row_group()?;
            for (nth, column) in self.columns.iter().enumerate() {
                let Some(mut writer) = group.next_column()? else {
                    break;
                };
                let rows = self.rows.iter();
                let data = rows.map(|row| row.datum(&self.columns, nth));
                let there: Vec<i16> = data
                    .clone()
                    .map(|datum| i16::from(datum.is_some()))
                    .collect();
                let numbers = data.clone().flatten().filter_map(Datum::number);
                match kind(column.holds) {
                    Physical::BYTE_ARRAY => {
                        let texts = data.flatten().filter_map(Datum::text);
                        let texts: Vec<ByteArray> = texts.map(ByteArray::from).collect();
                        writer
                            .typed::<ByteArrayType>()
                            .write_batch(&texts, Some(&there), None)?;
                    }
                    Physical::INT64 => {
                        let whole: Vec<i64> = numbers.map(|number| number as i64).collect();
                        writer
                            .typed::<Int64Type>()
                            .write_batch(&whole, Some(&there), None)?;
                    }
                    _ => {
                        let numbers: Vec<f64> = numbers.collect();
                        writer
                            .typed::<DoubleType>()
                            .write_batch(&numbers, Some(&there), None)?;
                    }
                }
                writer.close()?;
            }
            group.close()?;
            self.rows.clear();
            let written = std::mem::take(self.writer.inner_mut());
            Ok(self.out.write_all(&written)?)
        }

        pub fn finish(mut self) -> Result<(), Failure> {
            if !self.rows.is_empty() {
                self.group()?;
            }
            let rest = self.writer.into_inner()?;
            Ok(self.out.write_all(&rest)?)
        }
    }

    fn kind(holds: Holds) -> Physical {
        match holds {
            holds if holds.is_text() => Physical::BYTE_ARRAY,
            Holds::Cell | Holds::Met | Holds::Expected | Holds::Tick | Holds::Deaths => {
                Physical::INT64
            }
            _ => Physical::DOUBLE,
        }
    }

    fn field(column: &Column) -> Result<Type, ParquetError> {
        let kind = kind(column.holds);
        let text = (kind == Physical::BYTE_ARRAY).then_some(LogicalType::String);
        Type::primitive_type_builder(&column.name, kind)
            .with_repetition(Repetition::OPTIONAL)
            .with_logical_type(text)
            .build()
    }
}

#[cfg(not(feature = "parquet"))]
mod absent {
    use std::io::Write;
    use std::marker::PhantomData;

    use tin_crown::study::{Column, Row};

    use crate::failure::Failure;

    /// What this build does not write.
    pub struct Parquet<'w>(PhantomData<&'w ()>);

    impl<'w> Parquet<'w> {
        /// Whether this build writes it.
        pub fn check() -> Result<(), Failure> {
            Err(Failure::new("this build does not write Parquet")
                .help("build tin-crown-cli with its feature `parquet`, or write CSV"))
        }

        pub fn new(_out: &'w mut dyn Write, _columns: &[Column]) -> Result<Parquet<'w>, Failure> {
            Parquet::check().map(|()| Parquet(PhantomData))
        }

        pub fn add(&mut self, _row: &Row) -> Result<(), Failure> {
            Ok(())
        }

        pub fn finish(self) -> Result<(), Failure> {
            Ok(())
        }
    }
}
